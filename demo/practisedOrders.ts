/**
 * How a practised hand does ten dives on each of three devices: one act a line, as a verb and the items in their order. They were
 * written from the drawing and common practice (from memory) before the planner had been run on any of the three; whoever edits
 * one later gives the reason in the commit. What happens within one line is in no order but that of its screws.
 *
 * Acts that stand in every dive (photographs, gates, cleaning) are left out, as is turning and folding.
 */
export interface Practised {
  device: string;
  replace: string[];
  spares?: string[];
  /** The way in, then the way back. */
  order: readonly string[];
}

/* Corvane Almanac 7, a fold. Each half is made dead by its own cell and its end of the bridge, without opening the other. */
const CAMERA_HALF = [
  'eject card-tray',
  'heat back-seal',
  'cut back-seal',
  'lift back-cover',
  'unscrew rs1 rs2 rs3 rs4',
  'lift right-shield',
  'disconnect cell-right-plug bridge-right-plug',
];
const CAMERA_HALF_ON = [
  'connect bridge-right-plug',
  'connect cell-right-plug',
  'fit right-shield',
  'fasten rs1 rs2 rs3 rs4',
  'try',
  'bond back-seal',
  'fit back-cover',
  'press back-seal',
];
const COVER_HALF = [
  'eject card-tray',
  'heat cover-seal',
  'cut cover-seal',
  'swing cover-display',
  'unscrew ls1 ls2 ls3 ls4',
  'lift left-shield',
  'disconnect cell-left-plug bridge-left-plug',
];
const COVER_HALF_ON = [
  'connect bridge-left-plug',
  'connect cell-left-plug',
  'fit left-shield',
  'fasten ls1 ls2 ls3 ls4',
  'try',
  'bond cover-seal',
  'fit cover-display',
  'press cover-seal',
];
const CELL_RIGHT_OUT = ['disconnect coil-flex', 'lift coil', 'pull cell-right-tabs', 'lift cell-right'];
const CELL_RIGHT_IN = ['bond cell-right-tabs', 'fit cell-right', 'fit coil', 'connect coil-flex'];

const FOLD: Omit<Practised, 'device'>[] = [
  { replace: ['cell-right'], order: [...CAMERA_HALF, ...CELL_RIGHT_OUT, ...CELL_RIGHT_IN, ...CAMERA_HALF_ON] },
  {
    replace: ['cell-left'],
    order: [
      ...COVER_HALF,
      'pull cell-left-tabs',
      'lift cell-left',
      'bond cell-left-tabs',
      'fit cell-left',
      ...COVER_HALF_ON,
    ],
  },
  {
    // A new display is tried while it stands open beside the device, before its seal is laid.
    replace: ['cover-display'],
    order: [
      ...COVER_HALF,
      'disconnect cover-flex',
      'lift cover-display',
      'connect cover-flex',
      'connect bridge-left-plug',
      'connect cell-left-plug',
      'fit left-shield',
      'fasten ls1 ls2 ls3 ls4',
      'try',
      'bond cover-seal',
      'press cover-seal',
    ],
  },
  {
    // Nothing hangs on the back: it is raised and laid, and nothing inside is opened.
    replace: ['back-cover'],
    spares: ['back-cover-new'],
    order: [
      'eject card-tray',
      'heat back-seal',
      'cut back-seal',
      'lift back-cover',
      'bond back-seal',
      'fit back-cover',
      'press back-seal',
    ],
  },
  {
    replace: ['cameras'],
    order: [
      ...CAMERA_HALF,
      'disconnect camera-flex',
      'unscrew ca1 ca2',
      'lift cameras',
      'fit cameras',
      'fasten ca1 ca2',
      'connect camera-flex',
      ...CAMERA_HALF_ON,
    ],
  },
  {
    // Its plug is freed from behind before the rims are touched; the new one is tried on its flex with its liners on.
    replace: ['inner-display'],
    spares: ['inner-display-new'],
    order: [
      ...CAMERA_HALF,
      'disconnect inner-flex',
      'unscrew u1 u2',
      'heat rim-left-tape',
      'lift rim-left',
      'heat rim-right-tape',
      'lift rim-right',
      'heat inner-tape-left',
      'cut inner-tape-left',
      'heat inner-tape-right',
      'cut inner-tape-right',
      'lift inner-display',
      'connect inner-flex',
      'connect bridge-right-plug',
      'connect cell-right-plug',
      'try',
      'bond inner-tape-left inner-tape-right',
      'press inner-tape-left inner-tape-right',
      'bond rim-left-tape rim-right-tape',
      'fit rim-left rim-right',
      'bond back-seal',
      'press back-seal',
    ],
  },
  {
    // The flex of the port runs under the cell.
    replace: ['port-board'],
    order: [
      ...CAMERA_HALF,
      ...CELL_RIGHT_OUT,
      'disconnect port-flex',
      'disconnect antenna-coax',
      'unscrew pb1 pb2 pb3',
      'lift port-board',
      'fit port-board',
      'fasten pb1 pb2 pb3',
      'connect port-flex',
      'connect antenna-coax',
      ...CELL_RIGHT_IN,
      ...CAMERA_HALF_ON,
    ],
  },
  {
    replace: ['main-board'],
    order: [
      ...CAMERA_HALF,
      'disconnect coil-flex',
      'disconnect camera-flex',
      'disconnect port-flex key-flex inner-flex',
      'disconnect antenna-coax',
      'disconnect hinge-flex',
      'unscrew mb1 mb2 mb3',
      'lift main-board',
      'fit main-board',
      'fasten mb1 mb2 mb3',
      'connect hinge-flex',
      'connect antenna-coax',
      'connect port-flex key-flex inner-flex',
      'connect camera-flex',
      'connect coil-flex',
      ...CAMERA_HALF_ON,
    ],
  },
  {
    replace: ['speaker'],
    order: [
      ...COVER_HALF,
      'disconnect speaker-flex',
      'unscrew sp1 sp2 sp3 sp4',
      'lift speaker',
      'fit speaker',
      'fasten sp1 sp2 sp3 sp4',
      'connect speaker-flex',
      ...COVER_HALF_ON,
    ],
  },
  {
    replace: ['side-key'],
    order: [
      ...CAMERA_HALF,
      'disconnect key-flex',
      'unscrew sk1',
      'lift side-key',
      'fit side-key',
      'fasten sk1',
      'connect key-flex',
      ...CAMERA_HALF_ON,
    ],
  },
];

/* Wexholm Terrace 11: a display glued all round, propped up on its flexes; the cell is made dead before anything else is opened. */
const TABLET = [
  'heat display-seal',
  'cut display-seal',
  'swing display',
  'unscrew q1 q2',
  'lift cell-plate',
  'disconnect battery-flex',
];
const TABLET_ON = [
  'connect battery-flex',
  'fit cell-plate',
  'fasten q1 q2',
  'try',
  'bond display-seal',
  'fit display',
  'press display-seal',
];
const TABLET_CELL_OUT = [
  'solvent cell-glue-left cell-glue-right',
  'cut cell-glue-left cell-glue-right',
  'lift battery',
];
const TABLET_CELL_IN = ['bond cell-glue-left cell-glue-right', 'fit battery'];

const TERRACE: Omit<Practised, 'device'>[] = [
  {
    replace: ['display'],
    order: [
      ...TABLET,
      'unscrew p1 p2 p3',
      'lift plug-plate',
      'disconnect display-flex touch-flex',
      'lift display',
      'connect touch-flex',
      'connect display-flex',
      'fit plug-plate',
      'fasten p1 p2 p3',
      'connect battery-flex',
      'fit cell-plate',
      'fasten q1 q2',
      'try',
      'bond display-seal',
      'press display-seal',
    ],
  },
  { replace: ['battery'], order: [...TABLET, ...TABLET_CELL_OUT, ...TABLET_CELL_IN, ...TABLET_ON] },
  {
    replace: ['port'],
    order: [
      ...TABLET,
      ...TABLET_CELL_OUT,
      'disconnect port-flex',
      'unscrew t1 t2',
      'lift port',
      'fit port',
      'fasten t1 t2',
      'connect port-flex',
      ...TABLET_CELL_IN,
      ...TABLET_ON,
    ],
  },
  {
    replace: ['board'],
    order: [
      ...TABLET,
      'unscrew p1 p2 p3',
      'lift plug-plate',
      'disconnect display-flex touch-flex',
      'lift display',
      'disconnect antenna-coax',
      'disconnect front-camera-flex sensor-flex button-flex',
      'disconnect rear-camera-flex speakers-left-flex speaker-b-flex speaker-c-flex speaker-d-flex port-flex pen-flex',
      'unscrew b1 b2 b3 b4',
      'lift board',
      'fit board',
      'fasten b1 b2 b3 b4',
      'connect rear-camera-flex speakers-left-flex speaker-b-flex speaker-c-flex speaker-d-flex port-flex pen-flex',
      'connect antenna-coax',
      'connect touch-flex',
      'connect display-flex',
      'fit plug-plate',
      'fasten p1 p2 p3',
      ...TABLET_ON,
    ],
  },
  {
    replace: ['speaker-a'],
    order: [
      ...TABLET,
      'disconnect speakers-left-flex',
      'unscrew a1 a2',
      'lift speaker-a',
      'fit speaker-a',
      'fasten a1 a2',
      'connect speakers-left-flex',
      ...TABLET_ON,
    ],
  },
  {
    replace: ['speaker-d'],
    order: [
      ...TABLET,
      ...TABLET_CELL_OUT,
      'disconnect speaker-d-flex',
      'unscrew d1 d2',
      'lift speaker-d',
      'fit speaker-d',
      'fasten d1 d2',
      'connect speaker-d-flex',
      ...TABLET_CELL_IN,
      ...TABLET_ON,
    ],
  },
  {
    replace: ['rear-camera'],
    order: [
      ...TABLET,
      'disconnect rear-camera-flex',
      'unscrew r1 r2',
      'lift rear-camera',
      'fit rear-camera',
      'fasten r1 r2',
      'connect rear-camera-flex',
      ...TABLET_ON,
    ],
  },
  {
    replace: ['front-camera'],
    order: [
      ...TABLET,
      'disconnect front-camera-flex',
      'unscrew f1',
      'lift front-camera',
      'fit front-camera',
      'fasten f1',
      'connect front-camera-flex',
      ...TABLET_ON,
    ],
  },
  {
    replace: ['buttons'],
    order: [...TABLET, 'disconnect button-flex', 'lift buttons', 'fit buttons', 'connect button-flex', ...TABLET_ON],
  },
  {
    replace: ['antenna'],
    order: [
      ...TABLET,
      'disconnect antenna-coax',
      'unscrew n1 n2',
      'lift antenna',
      'fit antenna',
      'fasten n1 n2',
      'connect antenna-coax',
      ...TABLET_ON,
    ],
  },
];

/* Brannoch Cairn 2: plates off the sides, eight captive screws, no heat on the back. */
const RUGGED_BACK = [
  'eject card-tray',
  'unscrew l1 l2',
  'lift plate-left',
  'unscrew r1 r2',
  'lift plate-right',
  'unscrew x1 x2 x3 x4 x5 x6 x7 x8',
  'lift back-cover',
];
const RUGGED = [
  ...RUGGED_BACK,
  'unscrew i1 i2 i3 i4 i5',
  'release shield-clips',
  'lift inner-shield',
  'disconnect battery-flex',
];
const RUGGED_BACK_ON = [
  'fit back-cover',
  'fasten x1 x3 x5 x7 x8 x6 x4 x2',
  'fit plate-left plate-right',
  'fasten l1 l2 r1 r2',
];
const SHIELD_ON = ['fit inner-shield', 'fasten i1 i2 i3 i4 i5'];
const RUGGED_ON = ['connect battery-flex', ...SHIELD_ON, 'try', ...RUGGED_BACK_ON];
const RUGGED_CELL_OUT = ['lift coil', 'pull cell-pouch', 'lift battery'];
const RUGGED_CELL_IN = ['bond cell-pouch', 'fit battery', 'fit coil'];
/* The flex of the display comes through the chassis: it is freed from behind, then the glass is heated. */
const RUGGED_DISPLAY = [...RUGGED, 'disconnect display-flex', 'heat display-seal', 'cut display-seal', 'lift display'];
const RUGGED_DISPLAY_ON = [
  'connect display-flex',
  'connect battery-flex',
  'try',
  'bond display-seal',
  'press display-seal',
  ...RUGGED_BACK_ON,
];

const CAIRN: Omit<Practised, 'device'>[] = [
  { replace: ['battery'], order: [...RUGGED, ...RUGGED_CELL_OUT, ...RUGGED_CELL_IN, ...RUGGED_ON] },
  { replace: ['display'], order: [...RUGGED_DISPLAY, ...RUGGED_DISPLAY_ON] },
  {
    replace: ['main-board'],
    order: [
      ...RUGGED,
      'disconnect display-flex',
      'disconnect camera-flex front-camera-flex key-flex low-flex',
      'disconnect low-coax',
      'unscrew m1 m2 m3',
      'lift main-board',
      'fit main-board',
      'fasten m1 m2 m3',
      'connect camera-flex front-camera-flex key-flex low-flex',
      'connect low-coax',
      'connect display-flex',
      ...RUGGED_ON,
    ],
  },
  { replace: ['back-cover'], spares: ['back-cover-new'], order: [...RUGGED_BACK, ...RUGGED_BACK_ON] },
  {
    // The flex of the lower board runs under the cell.
    replace: ['low-board'],
    spares: ['low-board-new'],
    order: [
      ...RUGGED,
      ...RUGGED_CELL_OUT,
      'disconnect low-flex',
      'disconnect low-coax',
      'unscrew s1 s2 s3 s4',
      'lift speaker-box',
      'unscrew o1 o2',
      'lift low-board',
      'fit low-board',
      'fasten o1 o2',
      'connect low-flex',
      'connect low-coax',
      'fit speaker-box',
      'fasten s1 s2 s3 s4',
      ...RUGGED_CELL_IN,
      ...RUGGED_ON,
    ],
  },
  {
    replace: ['speaker-box'],
    order: [
      ...RUGGED,
      'unscrew s1 s2 s3 s4',
      'lift speaker-box',
      'fit speaker-box',
      'fasten s1 s2 s3 s4',
      ...RUGGED_ON,
    ],
  },
  {
    replace: ['rear-cameras'],
    order: [
      ...RUGGED,
      'disconnect camera-flex',
      'unscrew c1 c2',
      'lift rear-cameras',
      'fit rear-cameras',
      'fasten c1 c2',
      'connect camera-flex',
      ...RUGGED_ON,
    ],
  },
  {
    replace: ['ear-speaker'],
    order: [...RUGGED_DISPLAY, 'lift ear-speaker', 'fit ear-speaker', ...RUGGED_DISPLAY_ON],
  },
  {
    replace: ['side-keys'],
    order: [
      ...RUGGED,
      'disconnect key-flex',
      'unscrew k1 k2',
      'lift side-keys',
      'fit side-keys',
      'fasten k1 k2',
      'connect key-flex',
      ...RUGGED_ON,
    ],
  },
  { replace: ['motor'], order: [...RUGGED, 'lift motor', 'fit motor', ...RUGGED_ON] },
];

const of = (device: string, dives: Omit<Practised, 'device'>[]): Practised[] =>
  dives.map((dive) => ({ device, ...dive }));

export const PRACTISED: readonly Practised[] = [
  ...of('corvane-almanac-7', FOLD),
  ...of('wexholm-terrace-11', TERRACE),
  ...of('brannoch-cairn-2', CAIRN),
];
