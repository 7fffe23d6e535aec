/** Sand at the surface to deep petrol at the board: the depth scale of the profile and the drawing. */
const STOPS = ['#dcc9a0', '#bdb894', '#8fa590', '#5a8a8b', '#2f6a76', '#144d5c', '#0a3442'];

function mix(a: string, b: string, t: number): string {
  const channel = (hex: string, i: number) => Number.parseInt(hex.slice(1 + 2 * i, 3 + 2 * i), 16);
  const parts = [0, 1, 2].map((i) => Math.round(channel(a, i) + (channel(b, i) - channel(a, i)) * t));
  return `rgb(${parts.join(' ')})`;
}

/** @param t 0 at the surface, 1 at the deepest layer */
export function depthColour(t: number): string {
  const at = Math.min(1, Math.max(0, t)) * (STOPS.length - 1);
  const i = Math.min(STOPS.length - 2, Math.floor(at));
  return mix(STOPS[i]!, STOPS[i + 1]!, at - i);
}
