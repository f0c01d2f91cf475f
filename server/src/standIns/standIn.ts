import { createServer, type Server, type Socket } from 'node:net';
import { ERRORS, isHeader, messageUnits, type MessageUnit } from '@yundro/core';

/** What a stand-in answers: a line, a block of bytes, nothing, or the refusal it keeps for `SYSTem:ERRor?`. */
export type Answer = string | Uint8Array | undefined | { readonly error: string };

/** What a stand-in understands: by the header as SCPI writes it, with the question mark of a query. */
export type Commands = Readonly<Record<string, (told: readonly string[]) => Answer>>;

/** Bytes of a line at most. */
const LONGEST = 4_096;
const NEWLINE = 10;

/** A number within limits out of an argument, or the refusal. */
export function numberIn(text: string | undefined, low: number, high: number): number | { readonly error: string } {
  if (text === undefined) return { error: ERRORS.parameter };
  const value = Number(text);
  if (text === '' || !Number.isFinite(value)) return { error: ERRORS.data };
  return value < low || value > high ? { error: ERRORS.range } : value;
}

/** Whether an argument says on or off. */
export function switchIn(text: string | undefined): boolean | { readonly error: string } {
  if (text === undefined) return { error: ERRORS.parameter };
  if (/^(on|1)$/i.test(text)) return true;
  return /^(off|0)$/i.test(text) ? false : { error: ERRORS.data };
}

/** What a command answers; a board that cannot be simulated as it is set is a conflict of settings. */
function answerOf(command: Commands[string] | undefined, told: readonly string[]): Answer {
  if (!command) return { error: ERRORS.header };
  try {
    return command(told);
  } catch {
    return { error: ERRORS.conflict };
  }
}

/** A simulated instrument on a port of the loopback: the common commands, and its own. */
export class StandIn {
  private readonly server: Server;
  private readonly sockets = new Set<Socket>();
  private readonly errors: string[] = [];
  /** Standard event status register (IEEE 488.2, 11.5.1): bit 5 a command error, bit 4 an execution error, bit 0 operation complete. */
  private events = 0;

  constructor(
    private readonly model: string,
    private readonly commands: Commands,
    /** What `*RST` brings back. */
    private readonly reset: () => void,
  ) {
    this.server = createServer((socket) => this.serve(socket));
  }

  /** Listen on a free port of the loopback. */
  listen(port = 0): Promise<number> {
    return new Promise((resolve, reject) => {
      this.server.once('error', reject);
      this.server.listen(port, '127.0.0.1', () => {
        const at = this.server.address();
        resolve(typeof at === 'object' && at ? at.port : port);
      });
    });
  }

  /** Hang up, as an instrument whose plug is pulled. */
  close(): Promise<void> {
    for (const socket of this.sockets) socket.destroy();
    return new Promise((resolve) => this.server.close(() => resolve()));
  }

  private serve(socket: Socket): void {
    this.sockets.add(socket);
    socket.on('close', () => this.sockets.delete(socket));
    socket.on('error', () => socket.destroy());
    let kept = Buffer.alloc(0);
    socket.on('data', (bytes) => {
      kept = Buffer.concat([kept, bytes]);
      for (let end = kept.indexOf(NEWLINE); end >= 0; end = kept.indexOf(NEWLINE)) {
        const line = kept.subarray(0, end).toString('utf8').trim();
        kept = kept.subarray(end + 1);
        this.answer(socket, line);
      }
      if (kept.length > LONGEST) socket.destroy();
    });
  }

  private answer(socket: Socket, line: string): void {
    const answers: (string | Uint8Array)[] = [];
    for (const unit of messageUnits(line)) {
      const answer = this.one(unit);
      if (answer !== undefined) answers.push(answer);
    }
    if (answers.length === 0) return;
    answers.forEach((answer, k) => {
      if (k > 0) socket.write(';');
      socket.write(answer);
    });
    socket.write('\n');
  }

  private one({ header, query, arguments: told }: MessageUnit): string | Uint8Array | undefined {
    const found = Object.entries({ ...this.commands, ...this.common }).find(
      ([pattern]) => pattern.endsWith('?') === query && isHeader(pattern.replace(/\?$/, ''), header),
    );
    const answer = answerOf(found?.[1], told);
    if (typeof answer === 'object' && 'error' in answer) {
      this.errors.push(answer.error);
      this.events |= answer.error.startsWith('-1') ? 0x20 : 0x10;
      // A question that cannot be answered is answered with nothing, so that whoever waits for a line has one.
      return query ? '' : undefined;
    }
    return answer;
  }

  private readonly common: Commands = {
    '*IDN?': () => `Yundro,${this.model},0,1`,
    '*RST': () => {
      this.reset();
      return undefined;
    },
    '*CLS': () => {
      this.errors.length = 0;
      this.events = 0;
      return undefined;
    },
    '*OPC': () => {
      this.events |= 1;
      return undefined;
    },
    '*OPC?': () => '1',
    '*ESR?': () => {
      const { events } = this;
      this.events = 0;
      return String(events);
    },
    '*STB?': () => String((this.errors.length > 0 ? 4 : 0) | (this.events > 0 ? 32 : 0)),
    '*TST?': () => '0',
    '*WAI': () => undefined,
    'SYSTem:ERRor?': () => this.errors.shift() ?? ERRORS.none,
  };
}
