import { create } from 'zustand';

/** The key that opens the page for a cell gone wrong, from every screen: no field of any form takes it. */
export const EMERGENCY_KEY = 'F8';

interface EmergencyStore {
  open: boolean;
  raise: () => void;
  clear: () => void;
}

/** Whether the page for a cell gone wrong lies over the screen. It needs neither the server nor a new load. */
export const useEmergency = create<EmergencyStore>()((set) => ({
  open: false,
  raise: () => set({ open: true }),
  clear: () => set({ open: false }),
}));
