/** What is seen on the outside of a device as it comes in. */
export const MARKS = {
  crack: 'Crack',
  dent: 'Dent',
  scratch: 'Scratch',
  'bent-frame': 'Bent frame',
  'missing-screw': 'Missing screw',
  'liquid-indicator': 'Liquid indicator changed',
  corrosion: 'Corrosion seen',
} as const;
export type MarkKind = keyof typeof MARKS;
export const MARK_KINDS = Object.keys(MARKS) as MarkKind[];

/** One mark on the drawing. mm of the body, as everywhere. */
export interface ConditionMark {
  id: string;
  kind: MarkKind;
  face: 'front' | 'back';
  at: [number, number];
  note: string;
  /** Hash of a photograph of it. */
  photo: string | null;
}
