import type { EventBody } from '../core/run/index.ts';
import { readFileSync } from 'node:fs';
import type { Donor } from '../core/counter/index.ts';
import type { Symptom } from '../core/diagnosis/index.ts';
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
    'corvane-almanac-7',
    'wexholm-terrace-11',
    'brannoch-cairn-2',
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
  /** How it was taken in: its number, what the customer says in kinds, what worked. */
  counter?: { imei: string; symptoms: Symptom[]; fails: string[] };
  /** What fails when it is tested on the open device, where the dive stands then. */
  failsNow?: string[];
  /** What was measured and seen of its cell, and how its panel fits, before it was signed off. */
  care?: EventBody[];
}

export const JOBS: DemoJob[] = [
  {
    anatomy: 'velmora-quill-5',
    customer: 'Cosima Aldergate',
    complaint: 'No picture since it was opened elsewhere.',
    outside: 'Fingerprints inside the glass.',
    crackedGlass: false,
    charge: 24,
    triage: [],
    replace: ['display'],
    spares: ['display-full'],
    progress: 0.9,
    hoursAgo: 5,
    counter: { imei: '001010000077774', symptoms: ['fails'], fails: ['picture', 'brightness'] },
    failsNow: ['picture', 'brightness'],
  },
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
    counter: { imei: '001010000012342', symptoms: ['drains'], fails: [] },
    care: [
      { type: 'cell-measured', cell: 'battery', of: 'old', measure: 'charge', value: 22, half: null, hours: null },
      { type: 'cell-measured', cell: 'battery', of: 'old', measure: 'capacity', value: 2710, half: null, hours: null },
      { type: 'cell-measured', cell: 'battery', of: 'old', measure: 'cycles', value: 812, half: null, hours: null },
      { type: 'cell-seen', cell: 'battery', of: 'old', removal: 'tabs', marks: [] },
      {
        type: 'fit-measured',
        panel: 'display',
        readings: {
          'top-left': { gap: 0.14, step: 0.02 },
          top: { gap: 0.15, step: 0.01 },
          'top-right': { gap: 0.15, step: 0.03 },
          right: { gap: 0.16, step: 0.02 },
          'bottom-right': { gap: 0.15, step: 0.01 },
          bottom: { gap: 0.14, step: 0.02 },
          'bottom-left': { gap: 0.15, step: 0.02 },
          left: { gap: 0.15, step: 0.01 },
        },
      },
    ],
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
    counter: { imei: '001010000056786', symptoms: ['fails'], fails: ['picture'] },
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
    counter: { imei: '001010000099992', symptoms: ['drains'], fails: [] },
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

/** Spares on the shelf of the made-up shop. */
export const SHELF = [
  { anatomy: 'velmora-quill-5', spare: 'battery-new', price: '24.00', count: 2 },
  { anatomy: 'velmora-quill-5', spare: 'display-bare', price: '88.00', count: 1 },
  { anatomy: 'tannbrook-field-3', spare: 'main-camera-new', price: '31.50', count: 1 },
] as const;

/** Donor parts that the made-up shop has bought, so many days ago. */
export const DONORS: (Omit<Donor, 'id' | 'register' | 'job' | 'revision' | 'boughtOn'> & { daysAgo: number })[] = [
  {
    anatomy: 'velmora-quill-5',
    part: 'display',
    imei: null,
    serial: 'VQ5D-20418',
    storage: null,
    region: '',
    grade: 'worn',
    contacts: 'whole',
    tried: 'works',
    seller: 'Breakers by the mill',
    daysAgo: 22,
    returnDays: 30,
    price: '52.00',
    charge: null,
    reset: false,
  },
  {
    anatomy: 'velmora-quill-5',
    part: 'board',
    imei: '001010000006666',
    serial: null,
    storage: 128,
    region: 'north',
    grade: 'clean',
    contacts: 'bent',
    tried: 'not-tried',
    seller: 'Ostwick market',
    daysAgo: 4,
    returnDays: 14,
    price: '74.00',
    charge: 6,
    reset: false,
  },
];
