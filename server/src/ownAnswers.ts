import { STATUS_CODES, type Server } from 'node:http';
import type { Duplex } from 'node:stream';

/** Sentences for what Node refuses before any route sees it. */
const SENTENCES: Readonly<Record<number, string>> = {
  400: 'The request is not HTTP as this server reads it.',
  408: 'The request took too long to arrive.',
  413: 'The request is too large.',
  417: 'This server keeps no other expectation than 100-continue.',
  431: 'The headers of the request are too large.',
};

const STATUS_OF_CODE: Readonly<Record<string, number>> = {
  HPE_HEADER_OVERFLOW: 431,
  HPE_CHUNK_EXTENSIONS_OVERFLOW: 413,
  ERR_HTTP_REQUEST_TIMEOUT: 408,
};

/** The problem of a status, as the API words its own. */
function problem(status: number): string {
  const title = STATUS_CODES[status] ?? '';
  return JSON.stringify({ type: 'about:blank', title, status, detail: SENTENCES[status] ?? title });
}

/** Give the refusals of Node's own a sentence, as all others have. */
export function answerInSentences(server: Server): void {
  server.on('clientError', (error: NodeJS.ErrnoException, socket: Duplex) => {
    if (error.code === 'ECONNRESET' || !socket.writable) {
      socket.destroy();
      return;
    }
    const status = STATUS_OF_CODE[error.code ?? ''] ?? 400;
    const body = problem(status);
    socket.end(
      `HTTP/1.1 ${String(status)} ${STATUS_CODES[status] ?? ''}\r\nConnection: close\r\nContent-Type: application/problem+json\r\n` +
        `Content-Length: ${String(Buffer.byteLength(body))}\r\n\r\n${body}`,
    );
  });
  server.on('checkExpectation', (_request, response) => {
    response.writeHead(417, { 'Content-Type': 'application/problem+json', Connection: 'close' });
    response.end(problem(417));
  });
}
