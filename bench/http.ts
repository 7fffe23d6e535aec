import { Agent, request } from 'node:http';

/** One connection is kept open for each of many benches, as browsers do. */
export const agent = new Agent({ keepAlive: true, maxSockets: 64 });

/** Posts JSON. A connection that the server closed in the moment it was used again is opened anew. */
export function post(url: string, json: unknown, again = true): Promise<number> {
  const sent = JSON.stringify(json);
  return new Promise((resolve, reject) => {
    const headers = { 'Content-Type': 'application/json', 'Content-Length': Buffer.byteLength(sent) };
    const asking = request(url, { method: 'POST', agent, headers }, (answer) => {
      answer.resume();
      answer.on('end', () => resolve(answer.statusCode!));
    });
    asking.on('error', (error: NodeJS.ErrnoException) => {
      if (again && asking.reusedSocket && error.code === 'ECONNRESET') resolve(post(url, json, false));
      else reject(error);
    });
    asking.end(sent);
  });
}
