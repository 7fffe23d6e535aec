import { parseArgs } from 'node:util';

export const USAGE = `usage: npm run nibrel -- <command>
  check <anatomy.json> [--json]
  plan <anatomy.json> --replace <part>[,<part>] [--spare <id>[,<id>]] [--cracked] [--charge 60] [--dark]
    [--rules <rules.json>] [--json]
  depth <anatomy.json> [--rules <rules.json>] [--json]
  screws <anatomy.json> [--json]
  tray <anatomy.json> --replace <part>[,<part>] [--wells 4x6] [--trays 1] [--json]
  sort <anatomy.json> <measured.csv> [--json]
  heat <anatomy.json> --bond <id> [--source mat|pad|gun|gel|dryer] [--set 70] [--minutes 5] [--room 22]
    [--face front|back] [--solvent] [--recipe] [--json]
  cut <anatomy.json> --bond <id> [--marks 2] [--margin 0.5] [--json]
  strips <anatomy.json> --bond <id> [--rolls 2,3,5] [--corners turned|mitred|butted] [--margin 1] [--rules <rules.json>]
    [--json|--svg]   strips of tape for a bond: lengths, cuts, order; with --svg the template at 1:1
  press <anatomy.json> --bond <id> [--room 22] [--rules <rules.json>] [--json]   load, weights, clips and time for a bond
  cell <anatomy.json> [--charge 80] [--load 3.5] [--rules <rules.json>] [--json]   Wh, minutes to 25 % with so many W, and
    what a parcel may carry
  straighten <photo> --body 71.2x147.6 --out <plate.png> [--edges <edges.json>] [--face front|back] [--height 300]
    [--depth 0] [--scale 20] [--no-snap] [--json]   edges: four lines [[x1,y1],[x2,y2]] in px: top, right, bottom, left
  propose <photo> --body 71.2x147.6 [--edges <edges.json>] [--face front|back] [--height 300] [--depth 0] [--no-snap]
    [--json]   screw heads, holes and outlines in mm of the body
  draft diff <older.json> <newer.json> [--json]   what changed, in words
  svg <anatomy.json> [--out <drawing.svg>]       the layered drawing at 1:1
  svg-in <anatomy.json> <drawing.svg> [--out <changed.json>] [--json]
  catalogue <folder> [--json]   the index of a folder of bundles, to be served as plain files
  act --from-plan <anatomy.json> --replace <part>[,<part>] [--shuffle <seed>] [--json]   a plan's way in as the acts of
    a technician: what was done, and what a person sees of it
  learn <acts.json> [<acts.json> ...] [--anatomy <known.json>] [--ids labels] [--way-back] [--json]   the anatomy that
    field dives into one model tell, oldest first; with --way-back the newest of them, and the way back from it
  identity <number> [--json]   an IMEI or a serial number; 1 and why where it is wrong
  diagnose <anatomy.json> --replace <part>[,<part>] --tests <tests.json> [--closed] [--json]   which opened item most
    likely did it, and what to look at next; tests: {"function": "pass" or "fail"}
  quote <anatomy.json> --replace <part>[,<part>] [--history <jobs.json>] [--json]   time and money of a dive; history:
    a list of {"planned": s, "taken": s}
  backup <file.zip> [--data <folder>] [--json]   also while the server runs
  restore <file.zip> [--data <folder>] [--json]  with the server stopped; what was there is kept beside it
  verify [<file.zip>] [--data <folder>] [--json]   every job, event and photograph as it was written; 1 where one is not`;

/** Ends the command with a message for standard error: 1 for faults of the input, 2 for wrong usage. */
export class Stop extends Error {
  constructor(
    readonly code: 1 | 2,
    message: string,
    readonly out = '',
  ) {
    super(message);
  }
}

/** A number of the command line. @throws Stop 2 */
export function numberOf(name: string, text: string | undefined, fallback: number, low: number, high: number): number {
  if (text === undefined) return fallback;
  const value = Number(text);
  if (!Number.isFinite(value) || value < low || value > high)
    throw new Stop(2, `--${name} must be a number from ${low} to ${high}, not ${text}\n${USAGE}`);
  return value;
}

export type Values = ReturnType<typeof parse>['values'];

export function parse(argv: string[]) {
  return parseArgs({
    args: argv,
    allowPositionals: true,
    options: {
      json: { type: 'boolean' },
      replace: { type: 'string' },
      spare: { type: 'string' },
      rules: { type: 'string' },
      cracked: { type: 'boolean' },
      charge: { type: 'string' },
      dark: { type: 'boolean' },
      wells: { type: 'string' },
      trays: { type: 'string' },
      bond: { type: 'string' },
      source: { type: 'string' },
      set: { type: 'string' },
      minutes: { type: 'string' },
      room: { type: 'string' },
      face: { type: 'string' },
      solvent: { type: 'boolean' },
      recipe: { type: 'boolean' },
      data: { type: 'string' },
      marks: { type: 'string' },
      margin: { type: 'string' },
      body: { type: 'string' },
      edges: { type: 'string' },
      out: { type: 'string' },
      height: { type: 'string' },
      depth: { type: 'string' },
      scale: { type: 'string' },
      'no-snap': { type: 'boolean' },
      'from-plan': { type: 'string' },
      shuffle: { type: 'string' },
      anatomy: { type: 'string' },
      ids: { type: 'string' },
      'way-back': { type: 'boolean' },
      tests: { type: 'string' },
      closed: { type: 'boolean' },
      history: { type: 'string' },
      rolls: { type: 'string' },
      corners: { type: 'string' },
      svg: { type: 'boolean' },
      load: { type: 'string' },
    },
  });
}
