// A client as light as can be: one kept connection, requests written as they are. Where server and clients share two
// cores, a client that works as hard as the server would measure itself.
import { connect } from 'node:net';

const HEAD_END = '\r\n\r\n';

/** Opens a connection; `post(path, body, key)` sends one command at a time and answers its status and the text of its answer. */
export async function plainClient(port, cookie) {
  const socket = connect({ host: '127.0.0.1', port, noDelay: true });
  await new Promise((done, fail) => socket.once('connect', done).once('error', fail));
  let received = Buffer.alloc(0);
  let waiting = null;
  socket.on('error', (error) => waiting?.fail(error));
  socket.on('close', () => waiting?.fail(new Error('the server closed the connection')));
  socket.on('data', (chunk) => {
    received = received.length === 0 ? chunk : Buffer.concat([received, chunk]);
    const end = received.indexOf(HEAD_END);
    if (end < 0) return;
    const head = received.toString('latin1', 0, end);
    const length = Number(/content-length: (\d+)/i.exec(head)?.[1] ?? NaN);
    if (Number.isNaN(length)) {
      waiting?.fail(new Error(`an answer without a length: ${head}`));
      return;
    }
    const begin = end + HEAD_END.length;
    if (received.length < begin + length) return;
    const answer = { status: Number(head.slice(9, 12)), text: received.toString('utf8', begin, begin + length) };
    received = received.subarray(begin + length);
    const { done } = waiting;
    waiting = null;
    done(answer);
  });
  return {
    post: (path, body, key) =>
      new Promise((done, fail) => {
        waiting = { done, fail };
        const payload = JSON.stringify(body);
        socket.write(
          `POST /api${path} HTTP/1.1\r\nhost: 127.0.0.1:${port}\r\ncookie: ${cookie}\r\ncontent-type: application/json\r\nidempotency-key: ${key}\r\ncontent-length: ${Buffer.byteLength(payload)}\r\n\r\n${payload}`,
        );
      }),
    close: () => socket.end(),
  };
}
