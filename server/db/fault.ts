/** Why the shop's data cannot be opened, and what to do, in a sentence. */
export class DataFault extends Error {}
