import { readFileSync } from 'node:fs';
import { fileURLToPath } from 'node:url';

/** The made-up shop of the demonstration. Nobody here is real, nor any device. */
export const SHOP = {
  name: 'Lantern Quay Bench',
  address: '4 Lantern Quay, Ostwick',
  technicians: ['Ysolde Marrin', 'Tobin Hask'],
};

const anatomyText = (name: string): string =>
  readFileSync(fileURLToPath(new URL(`./anatomies/${name}.json`, import.meta.url)), 'utf8');

/** The made-up devices, by id. */
export const ANATOMIES: Record<string, string> = Object.fromEntries(
  [
    'velmora-quill-5',
    'tannbrook-field-3',
    'pellworth-nacre-2',
    'osterleigh-broadleaf-12',
    'karnhold-mule-4',
    'dunvey-pip-61',
  ].map((id) => [id, anatomyText(id)]),
);

export interface DemoJob {
  anatomy: string;
  customer: string;
  complaint: string;
  outside: string;
  crackedGlass: boolean;
  /** Percent when it was taken in; `null` was not read. */
  charge: number | null;
  triage: ('swollen' | 'hot' | 'punctured' | 'burnt')[];
  replace: string[];
  spares: string[];
  /** How far the dive has got, as a share of its steps; 1 is signed off. */
  progress: number;
  /** Hours before now that it was taken in. */
  hoursAgo: number;
}

export const JOBS: DemoJob[] = [
  {
    anatomy: 'velmora-quill-5',
    customer: 'Ione Castellar',
    complaint: 'Empty by noon, warm when charging.',
    outside: 'Two scratches on the frame, glass whole.',
    crackedGlass: false,
    charge: 41,
    triage: [],
    replace: ['battery'],
    spares: ['battery-new'],
    progress: 1,
    hoursAgo: 27,
  },
  {
    anatomy: 'tannbrook-field-3',
    customer: 'Fenn Okarro',
    complaint: 'Main camera shakes and will not focus.',
    outside: 'Cover worn at one corner.',
    crackedGlass: false,
    charge: 63,
    triage: [],
    replace: ['main-camera'],
    spares: ['main-camera-new'],
    progress: 0.36,
    hoursAgo: 3,
  },
  {
    anatomy: 'velmora-quill-5',
    customer: 'Marit Lindqvane',
    complaint: 'Dropped on tiles: display dark in one corner.',
    outside: 'Glass cracked at the lower left.',
    crackedGlass: true,
    charge: 30,
    triage: [],
    replace: ['display'],
    spares: ['display-bare'],
    progress: 0.18,
    hoursAgo: 2,
  },
  {
    anatomy: 'velmora-quill-5',
    customer: 'Dario Penhallow',
    complaint: 'Battery lasts half a day.',
    outside: 'Clean.',
    crackedGlass: false,
    charge: 22,
    triage: [],
    replace: ['battery'],
    spares: ['battery-new'],
    progress: 0,
    hoursAgo: 1,
  },
  {
    anatomy: 'tannbrook-field-3',
    customer: 'Sunniva Rook',
    complaint: 'Back cover lifts; found it so after a night on the charger.',
    outside: 'Cover pushed out along one side.',
    crackedGlass: false,
    charge: 55,
    triage: ['swollen'],
    replace: [],
    spares: [],
    progress: 0,
    hoursAgo: 0.6,
  },
  {
    anatomy: 'pellworth-nacre-2',
    customer: 'Brannoch Tull',
    complaint: 'Picture has green lines since a fall.',
    outside: 'Back glass whole, frame scuffed.',
    crackedGlass: false,
    charge: 38,
    triage: [],
    replace: ['display'],
    spares: ['display-full'],
    progress: 0,
    hoursAgo: 0.5,
  },
  {
    anatomy: 'osterleigh-broadleaf-12',
    customer: 'Quillon Ferrow',
    complaint: 'Fan rattles and stops.',
    outside: 'Clean; kickstand stiff.',
    crackedGlass: false,
    charge: 47,
    triage: [],
    replace: ['fan'],
    spares: ['fan-new'],
    progress: 0.3,
    hoursAgo: 4,
  },
  {
    anatomy: 'karnhold-mule-4',
    customer: 'Hesper Dane',
    complaint: 'Thermal camera shows stripes.',
    outside: 'Muddy; flap torn.',
    crackedGlass: false,
    charge: 26,
    triage: [],
    replace: ['thermal-camera'],
    spares: [],
    progress: 0,
    hoursAgo: 0.4,
  },
  {
    anatomy: 'dunvey-pip-61',
    customer: 'Abel Winterslow',
    complaint: 'Lower half of the picture is missing.',
    outside: 'Keys worn.',
    crackedGlass: false,
    charge: 70,
    triage: [],
    replace: ['display'],
    spares: ['display-new'],
    progress: 0,
    hoursAgo: 0.3,
  },
  {
    anatomy: 'tannbrook-field-3',
    customer: 'Oisin Verrault',
    complaint: 'Charges only when the plug is held.',
    outside: 'Lint in the port.',
    crackedGlass: false,
    charge: 34,
    triage: [],
    replace: ['port'],
    spares: ['port-new'],
    progress: 0,
    hoursAgo: 0.2,
  },
];

/** A device that stands in no list, half-way into its first dive. What was done to it is told by a device of the same build. */
export const FIELD_JOB = {
  device: { name: 'Corvale Skerry 4', wanted: 'Main camera' },
  built: 'tannbrook-field-3',
  replace: 'main-camera',
  customer: 'Sunniva Crake',
  complaint: 'Pictures are blurred on one side.',
  outside: 'Light scratches.',
  /** Share of the way in that is done. */
  progress: 0.62,
  hoursAgo: 0.8,
} as const;
