import type { Connector, Model } from '../../anatomy/index.ts';
import { keyOf as key } from './keys.ts';

/**
 * R24: what is out of the way before a joint is worked with the iron: its assembly is out on a mat of its own, or the cells are
 * away from it. Action keys.
 */
export function wantedOutOf(model: Model, joint: Connector): string[] {
  const assembly = model.contextOf(joint.id);
  if (assembly !== null && !model.parts.get(assembly)!.fixed) return [key('lift', assembly)];
  return model.anatomy.parts
    .filter((p) => p.kind === 'battery' && p.id !== joint.from && p.id !== joint.to)
    .map((p) => key('lift', p.id));
}
