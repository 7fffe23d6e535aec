import { create } from 'zustand';
import { persist } from 'zustand/middleware';

export const ACTIONS = [
  'done',
  'whole',
  'back',
  'deviation',
  'photo',
  'note',
  'timer',
  'mirror',
  'layers',
  'picture',
  'profile',
  'leave',
  'replan',
  'try',
  'help',
] as const;
export type Action = (typeof ACTIONS)[number];

export const ACTION_WORDS: Record<Action, string> = {
  done: 'Done, or the next item',
  whole: 'Everything left in the step',
  back: 'Take back',
  deviation: 'Something is different',
  photo: 'Photograph',
  note: 'Note',
  timer: 'End the wait',
  mirror: 'Mirror the drawing',
  layers: 'One layer or all',
  picture: 'How it lay on the way in, full size',
  profile: 'The whole dive',
  leave: 'Leave the step for now',
  replan: 'Plan the rest anew',
  try: 'Try it now',
  help: 'Keys',
};

/** Names as in KeyboardEvent.key. A foot pedal sends a key of its own: map that. */
export const DEFAULT_KEYS: Record<Action, string> = {
  done: ' ',
  whole: 'Enter',
  back: 'Backspace',
  deviation: 'd',
  photo: 'p',
  note: 'n',
  timer: 't',
  mirror: 'm',
  layers: 'l',
  picture: 'i',
  profile: 'v',
  leave: 's',
  replan: 'r',
  try: 'y',
  help: '?',
};

interface Prefs {
  theme: 'light' | 'dark' | 'system';
  technician: string | null;
  keys: Record<Action, string>;
  /** Screws are driven with the torque driver of this bench. */
  torqueDriver: boolean;
  /** The thermometers of this bench lie at the heat; how many seconds pass for them in one, as they are stand-ins. */
  thermometers: boolean;
  clockSpeed: number;
  /** Drawings lie over the photograph of their depth, where there is one. */
  photographs: boolean;
  setPhotographs: (on: boolean) => void;
  setThermometers: (on: boolean) => void;
  setClockSpeed: (speed: number) => void;
  setTorqueDriver: (on: boolean) => void;
  setTheme: (theme: Prefs['theme']) => void;
  setTechnician: (name: string | null) => void;
  /** Gives an action a key; an action that had it takes the other's. */
  setKey: (action: Action, key: string) => void;
  resetKeys: () => void;
}

/** What belongs to this screen rather than to the shop. */
export const usePrefs = create<Prefs>()(
  persist(
    (set) => ({
      theme: 'system',
      technician: null,
      keys: DEFAULT_KEYS,
      torqueDriver: false,
      thermometers: false,
      clockSpeed: 1,
      photographs: true,
      setPhotographs: (photographs) => set({ photographs }),
      setThermometers: (thermometers) => set({ thermometers }),
      setClockSpeed: (clockSpeed) => set({ clockSpeed }),
      setTorqueDriver: (torqueDriver) => set({ torqueDriver }),
      setTheme: (theme) => set({ theme }),
      setTechnician: (technician) => set({ technician }),
      setKey: (action, key) =>
        set(({ keys }) => {
          const other = ACTIONS.find((a) => keys[a] === key);
          return { keys: { ...keys, ...(other ? { [other]: keys[action] } : {}), [action]: key } };
        }),
      resetKeys: () => set({ keys: DEFAULT_KEYS }),
    }),
    {
      name: 'nibrel.prefs',
      // Keys kept before an action was added lack it.
      merge: (kept, fresh) => ({
        ...fresh,
        ...(kept as Partial<Prefs>),
        keys: { ...DEFAULT_KEYS, ...(kept as Partial<Prefs> | undefined)?.keys },
      }),
    },
  ),
);

export function keyWord(key: string): string {
  if (key === ' ') return 'Space';
  if (key === 'Backspace') return '⌫';
  return key.length === 1 ? key.toUpperCase() : key;
}

export function applyTheme(theme: Prefs['theme']): void {
  const dark = theme === 'dark' || (theme === 'system' && window.matchMedia('(prefers-color-scheme: dark)').matches);
  document.documentElement.dataset.theme = dark ? 'dark' : 'light';
}
