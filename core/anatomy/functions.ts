import type { Anatomy, DeviceFunction, Part } from './types.ts';

type Kind = Anatomy['kind'];

/**
 * Functions that most devices have, with their tests. Origin: common practice of the trade, in our own words.
 * `of`: kinds of parts that they usually hang on; `on`: kinds of devices that have them for sure, all where left out, so that a
 * device of which nobody has listed any begins with these.
 */
export const USUAL_FUNCTIONS: readonly (DeviceFunction & { of: readonly Part['kind'][]; on?: readonly Kind[] })[] = [
  {
    id: 'power',
    name: 'Power',
    test: 'It starts; the charge level is shown.',
    afterClosing: false,
    of: ['battery', 'board'],
  },
  {
    id: 'charging',
    name: 'Charging',
    test: 'It charges from a cable; the current settles.',
    afterClosing: false,
    of: ['port'],
  },
  {
    id: 'wireless-charging',
    name: 'Wireless charging',
    test: 'On the pad it charges in two places.',
    afterClosing: true,
    of: ['coil'],
    on: [],
  },
  {
    id: 'picture',
    name: 'Picture',
    test: 'White, black, red, green, blue: every line, no spots.',
    afterClosing: false,
    of: ['display'],
  },
  {
    id: 'touch',
    name: 'Touch',
    test: 'Drag one icon over the whole surface.',
    afterClosing: false,
    of: ['display'],
    on: ['phone', 'tablet'],
  },
  {
    id: 'camera',
    name: 'Camera',
    test: 'A near and a far picture; it focuses, no rattle.',
    afterClosing: false,
    of: ['camera'],
    on: ['phone', 'tablet'],
  },
  {
    id: 'front-camera',
    name: 'Front camera',
    test: 'One picture, sharp to the rim.',
    afterClosing: false,
    of: ['camera'],
    on: ['phone', 'tablet'],
  },
  {
    id: 'flash',
    name: 'Flash',
    test: 'It lights with a picture and as a lamp.',
    afterClosing: false,
    of: ['camera'],
    on: ['phone'],
  },
  {
    id: 'loudspeaker',
    name: 'Loudspeaker',
    test: 'The loudest ring: no rattle.',
    afterClosing: false,
    of: ['speaker'],
  },
  {
    id: 'ear-speaker',
    name: 'Ear speaker',
    test: 'A voice at the ear, clear at half volume.',
    afterClosing: false,
    of: ['speaker'],
    on: ['phone', 'keypad-phone'],
  },
  {
    id: 'microphone',
    name: 'Microphone',
    test: 'Record and play back a sentence.',
    afterClosing: false,
    of: ['sensor', 'port'],
  },
  {
    id: 'vibration',
    name: 'Vibration',
    test: 'Silent ring: felt, and not heard to rattle.',
    afterClosing: false,
    of: ['motor'],
    on: ['phone', 'keypad-phone'],
  },
  {
    id: 'buttons',
    name: 'Buttons',
    test: 'Each button, twice: it clicks and acts.',
    afterClosing: true,
    of: ['button'],
  },
  {
    id: 'fingerprint',
    name: 'Fingerprint',
    test: 'A known finger opens it three times of three.',
    afterClosing: false,
    of: ['reader', 'button'],
    on: [],
  },
  { id: 'face', name: 'Face', test: 'A known face opens it.', afterClosing: true, of: ['sensor', 'camera'], on: [] },
  {
    id: 'light-sensor',
    name: 'Light and nearness',
    test: 'Covered, the screen goes dark in a call.',
    afterClosing: false,
    of: ['sensor'],
    on: ['phone'],
  },
  {
    id: 'network',
    name: 'Network',
    test: 'It registers; a call comes in.',
    afterClosing: true,
    of: ['antenna', 'board'],
    on: ['phone', 'keypad-phone'],
  },
  {
    id: 'wireless',
    name: 'Wireless network',
    test: 'It finds the shop’s network at arm’s length.',
    afterClosing: true,
    of: ['antenna', 'board'],
    on: ['phone', 'tablet'],
  },
  {
    id: 'sim',
    name: 'SIM',
    test: 'The card is read after putting it in again.',
    afterClosing: false,
    of: ['tray', 'reader'],
    on: ['phone', 'keypad-phone'],
  },
  {
    id: 'card',
    name: 'Memory card',
    test: 'The card is read and written.',
    afterClosing: false,
    of: ['reader', 'tray'],
    on: [],
  },
  {
    id: 'seal',
    name: 'Seal',
    test: 'The leak test holds, where the house has one.',
    afterClosing: true,
    of: ['cover'],
    on: [],
  },
];

/**
 * The functions that a device of a kind is tested for while nobody has listed its own: no part bears them, so that each is
 * tested whatever was opened.
 */
export const functionsOfKind = (kind: Kind): DeviceFunction[] =>
  USUAL_FUNCTIONS.filter(({ on }) => on === undefined || on.includes(kind)).map(({ id, name, test, afterClosing }) => ({
    id,
    name,
    test,
    afterClosing,
    unplaced: true,
  }));

/** A function by its id: the device's own, else a usual one, else one of that name, so that nothing is told without words. */
export const functionIn = ({ functions }: Pick<Anatomy, 'functions'>, id: string): DeviceFunction => {
  const own = functions.find((f) => f.id === id) ?? USUAL_FUNCTIONS.find((f) => f.id === id);
  return own
    ? { id, name: own.name, test: own.test, afterClosing: own.afterClosing }
    : { id, name: id.replaceAll('-', ' '), test: 'Try it as it was tried before.', afterClosing: false };
};
