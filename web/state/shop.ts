import { create } from 'zustand';
import type { Shop } from '../../core/jobs/index.ts';
import { api, messageOf } from './api.ts';
import { proofOf } from './author.ts';
import { listen } from './live.ts';
import { usePrefs } from './prefs.ts';

interface ShopStore {
  shop: Shop | null;
  /** Version of the settings, for changing them. */
  problem: string | null;
  load: () => Promise<void>;
}

const KEY = 'nibrel.shop';

function keptShop(): Shop | null {
  try {
    const kept = JSON.parse(localStorage.getItem(KEY) ?? 'null') as Shop | null;
    // Kept by another version, or broken: better none than one that no screen can show.
    return Array.isArray(kept?.technicians) ? kept : null;
  } catch {
    return null;
  }
}

/** What the shop says of itself, and who is signed in here; as it was last known while the server is away. */
export const useShop = create<ShopStore>()((set) => ({
  shop: keptShop(),
  problem: null,
  load: async () => {
    try {
      const shop = await api<Shop>('/shop');
      set({ shop, problem: null });
      localStorage.setItem(KEY, JSON.stringify(shop));
      const { technician, setTechnician } = usePrefs.getState();
      if (!technician || !shop.technicians.includes(technician)) setTechnician(shop.technicians[0] ?? null);
    } catch (error) {
      set({ problem: messageOf(error) });
    }
  },
}));

/** Follows the shop over the live stream. @returns what ends it */
export function followShop(): () => void {
  void useShop.getState().load();
  return listen((heard) => {
    if (heard.kind === 'shop' || heard.kind === 'lost') void useShop.getState().load();
  });
}

/** Who works at this screen: who is signed in, or who was chosen where nobody signs in. */
export const technicianNow = (): string | null =>
  useShop.getState().shop?.signedIn?.name ?? usePrefs.getState().technician;

export const sessionNow = (): string | null => {
  const { shop } = useShop.getState();
  return shop?.signedIn ? shop.session : null;
};

/** Whoever comes to this browser next vouches for nothing of the one who left. */
export function forgetAuthor(): void {
  const { shop } = useShop.getState();
  if (!shop?.author) return;
  const left = { ...shop, author: null };
  useShop.setState({ shop: left });
  localStorage.setItem(KEY, JSON.stringify(left));
}

/**
 * What proves that something is made in the session of now; nothing where nobody signs in.
 * @param of id of the job or the draft
 */
export function proofNow(of: string, made: object): string | undefined {
  const { shop } = useShop.getState();
  return shop?.signedIn && shop.session && shop.author ? proofOf(shop.author, shop.session, of, made) : undefined;
}
