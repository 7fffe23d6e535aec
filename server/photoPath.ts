/** Where a photograph lies below the folder of photographs. */
export const photoPath = (hash: string, size: 'full' | 'thumb'): string =>
  `${hash.slice(0, 2)}/${hash}${size === 'thumb' ? '.thumb' : ''}.jpg`;
