/** What a device is as a whole, beside its lists. */
export const DEVICE_FIELDS = [
  'id',
  'name',
  'maker',
  'kind',
  'body',
  'battery',
  'orders',
  'mateOrder',
  'cells',
  'rails',
  'bodies',
  'hinge',
] as const;
export type DeviceField = (typeof DEVICE_FIELDS)[number];
