import { Agent, request } from 'node:http';

/** One connection is kept open for each of many benches, as browsers do. */
export const agent = new Agent({ keepAlive: true, maxSockets: 64 });

/**
 * Asks without the cost of a client that does more: JSON is posted, nothing is got. A connection that the server closed in the
 * moment it was used again is opened anew.
 */
export function ask(url: string, json?: unknown, again = true): Promise<{ status: number; text: string }> {
  const sent = json === undefined ? undefined : JSON.stringify(json);
  return new Promise((resolve, reject) => {
    const headers = sent ? { 'Content-Type': 'application/json', 'Content-Length': Buffer.byteLength(sent) } : {};
    const asking = request(url, { method: sent ? 'POST' : 'GET', agent, headers }, (answer) => {
      const chunks: Buffer[] = [];
      answer.on('data', (chunk: Buffer) => chunks.push(chunk));
      answer.on('end', () => resolve({ status: answer.statusCode!, text: Buffer.concat(chunks).toString() }));
    });
    asking.on('error', (error: NodeJS.ErrnoException) => {
      if (again && asking.reusedSocket && error.code === 'ECONNRESET') resolve(ask(url, json, false));
      else reject(error);
    });
    asking.end(sent);
  });
}

/** @returns the status of the answer */
export const post = async (url: string, json: unknown): Promise<number> => (await ask(url, json)).status;
