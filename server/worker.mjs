// A thread of the pool. The types are stripped by the loader that the server itself runs under.
import { tsImport } from 'tsx/esm/api';

const { work } = await tsImport('./tasks.ts', import.meta.url);

export default work;
