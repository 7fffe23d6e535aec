import { partsToBuy, quoteOf, spareFor, type OwnSpare, type Quote } from '../core/counter/index.ts';
import type { Model } from '../core/anatomy/index.ts';
import type { Plan } from '../core/dive/index.ts';
import { sameWork, type CounterMade, type RunContext } from '../core/run/index.ts';
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
  const { jobs } = services;
  const { state, context } = jobs.stateOf(id);
  const quoted = await quotedFor(services, id, context, state.counter.donors);
  await jobs.make(id, [quoted], by, jobs.stateOf(id).state.seq);
  return quoted.quote;
}

async function quotedFor(
  services: Services,
  id: string,
  { model, plan }: Pick<RunContext, 'model' | 'plan'>,
  donors: ReadonlyMap<string, string>,
): Promise<CounterMade & { type: 'quoted' }> {
  const { worth } = services.jobs.get(id);
  const quote = await quoteFor(services, model, plan, { job: id, worth, donors });
  const { name, simulated } = services.supplier;
  return { type: 'quoted', quote, supplier: name, simulated };
}

/**
 * The quote that goes with a change of a job, to be stored with it: what was quoted before is quoted anew once the plan does
 * other work. A way to a look does none, and never does; a job that was never quoted is not quoted by it.
 */
export async function quoteWith(
  services: Services,
  id: string,
  next: { model?: Model; plan?: Plan; donors?: ReadonlyMap<string, string> },
): Promise<CounterMade[]> {
  const { state, context } = services.jobs.stateOf(id);
  const { quote, donors } = state.counter;
  if (quote === null || state.signedOff) return [];
  const { model = context.model, plan = context.plan } = next;
  const stands = next.plan !== undefined && state.startedAt !== null && sameWork(context.plan, plan);
  if (stands && quote.version === state.version) return [];
  return [await quotedFor(services, id, { model, plan }, next.donors ?? donors)];
}
