import type { ActFile, UnknownDevice } from '../core/explore/index.ts';
import type { Job, UnlistedDevice } from '../core/jobs/index.ts';
import { actFileOf } from '../core/run/index.ts';
import { type Anatomy, blankAnatomy, functionsOfKind } from '../core/anatomy/index.ts';
import type { Services } from './services.ts';

/** Bodies that are farther apart than this are of two models, mm. Origin: two calipers and a bezel. */
const SAME_BODY = 1.5;

const plainName = (name: string): string => name.trim().toLowerCase().replace(/\s+/g, ' ');

/** Is it the same model, as far as its name and its measures tell? */
export function sameModel(a: UnlistedDevice, b: UnlistedDevice): boolean {
  if (plainName(a.name) !== plainName(b.name) || a.kind !== b.kind) return false;
  return (['width', 'height', 'thickness'] as const).every((side) => {
    const [one, other] = [a[side], b[side]];
    return one === null || other === null || Math.abs(one - other) <= SAME_BODY;
  });
}

/** The id that a device has which is known by its name only: `field-some-phone-7`. */
export const idOfField = (device: UnlistedDevice): string =>
  `field-${
    plainName(device.name)
      .replace(/[^a-z0-9]+/g, '-')
      .replace(/^-|-$/g, '')
      .slice(0, 40) || 'device'
  }`;

/** What a job's device is to be learnt as; functions are those of the device it is like, else the usual ones. */
export function deviceOf({ anatomies }: Pick<Services, 'anatomies'>, device: UnlistedDevice): UnknownDevice {
  const like: Anatomy | null = device.like && anatomies.has(device.like) ? anatomies.get(device.like).anatomy : null;
  const { body } = blankAnatomy(device);
  const functions = like?.functions ?? functionsOfKind(device.kind);
  return {
    name: device.name,
    kind: device.kind,
    width: body.width,
    height: body.height,
    thickness: body.thickness,
    cornerRadius: like?.body.cornerRadius ?? 0,
    ingress: like?.body.ingress ?? null,
    like: device.like ?? null,
    functions,
    battery: like?.battery ?? null,
  };
}

/** The field dives into the model of a job, oldest first, its own last. */
export function divesInto({ jobs, anatomies }: Pick<Services, 'jobs' | 'anatomies'>, job: Job): ActFile[] {
  const device = job.device!;
  const file = (id: string, own: UnlistedDevice) => actFileOf(deviceOf({ anatomies }, own), jobs.stateOf(id).state);
  const earlier = jobs
    .fieldJobs()
    .filter((other) => other.id !== job.id && other.number < job.number && sameModel(other.device!, device))
    .map((other) => file(other.id, other.device!))
    .filter((f) => f.acts.some((a) => a.item !== null));
  return [...earlier, file(job.id, device)];
}
