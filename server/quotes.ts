import { partsToBuy, quoteOf, spareFor, type OwnSpare, type Quote } from '../core/counter/index.ts';
import type { Model } from '../core/anatomy/index.ts';
import type { Plan } from '../core/dive/index.ts';
import type { Services } from './services.ts';

/** What a plan comes to, by what the shop has on its shelf, what its supplier offers, and what its own jobs took. */
export async function quoteFor(
  { counter, supplier, shop }: Services,
  model: Model,
  plan: Plan,
  { job, worth, donors = new Map() }: { job: string; worth: string | null; donors?: ReadonlyMap<string, string> },
): Promise<Quote> {
  const asked = partsToBuy(model, plan);
  const spares = [...new Set([...asked, ...model.anatomy.parts.filter((p) => !p.fixed).map((p) => p.id)])].map(
    (part) => ({
      id: spareFor(model, plan, part),
      kind: model.parts.get(part)!.kind,
    }),
  );
  // A supplier that does not answer has nothing; the prices are estimates then, and said to be.
  const offers = await supplier.offers(model.anatomy.id, spares).catch(() => []);
  const fitted = [...donors].map(
    ([part, id]): OwnSpare => ({
      id,
      anatomy: model.anatomy.id,
      spare: spareFor(model, plan, part),
      price: counter.donor(id).price,
      count: 1,
      reserved: 0,
    }),
  );
  const { past } = counter.lessons();
  return quoteOf(model, plan, {
    till: shop.get().till,
    offers,
    shelf: [...fitted, ...counter.shelf(job)],
    past,
    worth,
  });
}

/** Quotes the plan of a job as it is now and keeps the quote, by which what it takes from the shelf is spoken for. */
export async function quoteJob(services: Services, id: string, by: string): Promise<Quote> {
  const { jobs, supplier } = services;
  const before = jobs.stateOf(id);
  const { model, plan } = before.context;
  const { donors } = before.state.counter;
  const quote = await quoteFor(services, model, plan, { job: id, worth: before.job.worth, donors });
  const { state } = jobs.stateOf(id);
  await jobs.make(id, { type: 'quoted', quote, supplier: supplier.name, simulated: supplier.simulated }, by, state.seq);
  return quote;
}

/** Quotes anew what was quoted before, once the plan does other work; a way to a look does none, and never does. */
export async function quoteAgain(services: Services, id: string, by: string): Promise<void> {
  const { state } = services.jobs.stateOf(id);
  if (state.counter.quote && state.counter.quote.version !== state.version && !state.signedOff)
    await quoteJob(services, id, by);
}
