/** What a part or a plug is called where something is said of it: by its name, its id behind it for whoever reads the file. */
export const called = ({ id, name }: { id: string; name: string }): string =>
  name === '' || name === id ? id : `${name} (${id})`;
