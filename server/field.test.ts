import { afterAll, describe, expect, it } from 'vitest';
import { demoModel } from '../demo/models.ts';
import { photograph } from '../demo/photograph.ts';
import { DEFAULT_RULES, planDive } from '../core/dive/index.ts';
import { actsOfPlan, type Act } from '../core/explore/index.ts';
import type { JobFile, PlateInfo, UnlistedDevice } from '../core/jobs/index.ts';
import type { Learnt } from '../core/learn/index.ts';
import type { EventBody, SentEvent } from '../core/run/index.ts';
import type { Draft } from './drafts.ts';
import { asking, sentEvent, demoServer } from './trial.ts';

const { app, services, close } = demoServer('field');
afterAll(close);

const ask = asking(app);

const truth = demoModel('tannbrook-field-3');
const { width, height, thickness } = truth.anatomy.body;
const unlisted = (name: string): UnlistedDevice => ({ name, kind: 'phone', width, height, thickness });
const takeIn = async (name: string, rest: object = {}) => {
  const said = { customer: 'Wren Calloway', complaint: 'Dark pictures.', by: 'Tobin Hask', replace: [] };
  return (await ask<JobFile>('/jobs', { anatomy: null, device: unlisted(name), ...said, ...rest })).body.job;
};
const actsFor = (part: string, seed: number): Act[] =>
  actsOfPlan(truth, planDive(truth, { replace: [part] }, DEFAULT_RULES, { budget: 0, heat: 'usual' }), { seed }).acts;
const bodyOf = ({ act, item, note, seen }: Act): EventBody => ({ type: 'act', act, item, note, ...(seen && { seen }) });
const send = (job: string, events: SentEvent[]) =>
  ask<{ accepted: number; error: string }>(`/jobs/${job}/events`, { events });
const stateOf = (job: string) => services.jobs.stateOf(job).state;

/** A device of this name that was opened to a part by somebody. */
async function opened(name: string, part: string, seed: number): Promise<string> {
  const job = await takeIn(name);
  const sent = await send(
    job.id,
    actsFor(part, seed).map((act, i) => sentEvent(i + 1, bodyOf(act))),
  );
  expect(sent.status, JSON.stringify(sent.body)).toBe(200);
  return job.id;
}

describe('a field dive on the server', () => {
  it('keeps every act once, however often it is sent, and takes the last one back', async () => {
    const job = await takeIn('Lowmere Heron 1');
    const events = actsFor('main-camera', 1)
      .slice(0, 6)
      .map((act, i) => sentEvent(i + 1, bodyOf(act)));
    expect((await send(job.id, events)).status).toBe(200);
    expect((await send(job.id, events)).status).toBe(200);
    expect(stateOf(job.id).acts).toHaveLength(6);
    const back = await send(job.id, [sentEvent(7, { type: 'act-undone', act: events[5]!.id })]);
    expect(back.status).toBe(200);
    expect(stateOf(job.id).acts.map((a) => a.id)).toEqual(events.slice(0, 5).map((e) => e.id));
  });

  it('tells what is wrong with an act, and records nothing of it', async () => {
    const job = await takeIn('Lowmere Heron 2');
    const screw: EventBody = { type: 'act', act: 'screw-out', item: 's-1', note: '', seen: { at: [10, Number.NaN] } };
    expect((await send(job.id, [sentEvent(1, screw)])).status).toBe(422);
    const odd = { ...sentEvent(1, screw), act: 'screw-lost' };
    expect((await ask(`/jobs/${job.id}/events`, { events: [odd] })).status).toBe(422);
    expect(stateOf(job.id).acts).toEqual([]);
  });

  it('is turned round where something is open, and what the server planned is followed from then on', async () => {
    const shut = await takeIn('Lowmere Heron 3');
    const nothing = await ask<{ error: string }>(`/field/${shut.id}/turn`, { renew: false });
    expect(nothing).toMatchObject({ status: 409, body: { error: expect.stringMatching(/nothing is open/) } });

    const id = await opened('Lowmere Heron 3', 'main-camera', 3);
    const { status, body } = await ask<JobFile>(`/field/${id}/turn`, { renew: true, by: 'Tobin Hask' });
    expect(status).toBe(200);
    const out = body.events.filter((e) => e.type === 'act' && e.act === 'screw-out');
    const { plan } = stateOf(id).context;
    expect(plan.steps.filter((s) => s.do === 'fasten').flatMap((s) => s.items)).toHaveLength(out.length);
    expect((await ask(`/field/${id}/turn`, { renew: true })).status).toBe(409);
    const late = await send(id, [sentEvent(body.events.length + 1, bodyOf(actsFor('battery', 1)[0]!))]);
    expect(late.status).toBe(422);
  });

  it('tells what was learnt; a second dive into the same model is learnt with the first', async () => {
    const first = await opened('Lowmere Heron 4', 'main-camera', 4);
    const one = (await ask<Learnt>(`/field/${first}/learnt`)).body;
    expect(one.anatomy).toMatchObject({ id: 'field-lowmere-heron-4', name: 'Lowmere Heron 4' });
    expect(one.evidence.length).toBeGreaterThan(20);

    const second = await opened('lowmere  HERON 4', 'board', 5);
    const { body } = await ask<{ device: { name: string }; earlier: unknown[] }>(`/field/${second}/dives`);
    expect(body.earlier).toHaveLength(1);
    const both = (await ask<Learnt>(`/field/${second}/learnt`)).body;
    expect(both.anatomy.parts.length).toBeGreaterThan(one.anatomy.parts.length);
    // Another body under the same name is another device.
    const other = await takeIn('', { device: { ...unlisted('Lowmere Heron 4'), width: width + 4 } });
    expect((await ask<{ earlier: unknown[] }>(`/field/${other.id}/dives`)).body.earlier).toEqual([]);
  });

  it('goes to the workshop as a draft with its evidence, and its photographs lie beneath the drawing', async () => {
    const id = await opened('Lowmere Heron 5', 'main-camera', 6);
    const { jpeg } = await photograph({ model: truth, face: 'back', opened: 0, seed: 3, harshness: 0.2 });
    const post = { method: 'POST', body: new Uint8Array(jpeg) };
    const { body: photo } = await ask<{ hash: string }>('/field/photographs', undefined, post);
    const sides = `width=${width}&height=${height}`;
    const { edges } = (await ask<{ edges: unknown[] }>(`/field/photographs/${photo.hash}/edges?${sides}`)).body;
    expect(edges).toHaveLength(4);
    const asked = { photo: photo.hash, face: 'back', layer: 0, edges };
    expect((await ask(`/field/${id}/plates`, asked)).status).toBe(201);

    const kept = await ask<{ draft: string }>(`/field/${id}/keep`, { name: 'Heron 5', maker: 'Lowmere' });
    expect(kept.status).toBe(201);
    const draft = (await ask<Draft>(`/workshop/drafts/${kept.body.draft}`)).body;
    expect(draft.document).toMatchObject({ id: 'field-lowmere-heron-5', name: 'Heron 5', maker: 'Lowmere' });
    const evidence = (await ask<Learnt['evidence']>(`/workshop/drafts/${draft.id}/evidence`)).body;
    expect(new Set(evidence.map((e) => e.grade))).toContain('inferred');
    const beneath = (await ask<PlateInfo[]>(`/workshop/plates?device=${draft.document.id}`)).body;
    expect(beneath.map((p) => [p.face, p.layer])).toEqual([['back', 0]]);
    expect((await ask<{ draft: string }>(`/field/${id}/learnt`)).body.draft).toBe(draft.id);
  }, 60_000);

  it('is only for a device that has no anatomy, and never for one that must not be opened', async () => {
    const drawn = await takeIn('', { anatomy: 'tannbrook-field-3', device: undefined, replace: ['main-camera'] });
    expect((await ask(`/field/${drawn.id}/learnt`)).status).toBe(409);
    const swollen = await takeIn('Lowmere Heron 6', { triage: ['swollen'] });
    expect((await ask(`/field/${swollen.id}/turn`, { renew: false })).status).toBe(409);
    expect((await ask('/field/none/learnt')).status).toBe(404);
  });
});
