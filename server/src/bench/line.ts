import { connect, type Socket } from 'node:net';
import { blockLength } from '@yundro/core';
import type { Address } from './address.js';

/** An instrument that does not answer, or is gone. */
export class LostInstrument extends Error {
  override readonly name = 'LostInstrument';
}
/** An instrument that refused what it was told. */
export class InstrumentRefusal extends Error {
  override readonly name = 'InstrumentRefusal';
}

/** ms an instrument may take to let itself be spoken to, and to answer. */
const PATIENCE = { connect: 3_000, answer: 5_000 };
/** Bytes of one answer at most. */
const MOST = 64e6;
const NEWLINE = 10;

interface Asked {
  readonly command: string;
  readonly binary: boolean;
  readonly patience: number;
  readonly resolve: (answer: Uint8Array) => void;
  readonly reject: (error: Error) => void;
}

/**
 * A line to one instrument over raw TCP: what is said is said in order, an answer is waited for before the next question is put, and
 * nothing is waited for for ever.
 */
export class InstrumentLine {
  private received: Uint8Array = new Uint8Array(0);
  private readonly waiting: Asked[] = [];
  private asked: Asked | undefined;
  private timer: NodeJS.Timeout | undefined;
  private gone: LostInstrument | undefined;

  private constructor(
    readonly words: string,
    private readonly socket: Socket,
  ) {
    socket.setNoDelay(true);
    socket.on('data', (bytes) => this.take(bytes));
    socket.on('error', (error) => this.lose(`${words} is lost: ${error.message}.`));
    socket.on('close', () => this.lose(`${words} has hung up.`));
  }

  /** Call an instrument. Rejects with a LostInstrument where nobody answers. */
  static async to(words: string, { host, port }: Address): Promise<InstrumentLine> {
    const socket = connect({ host, port });
    await new Promise<void>((resolve, reject) => {
      const late = setTimeout(() => {
        socket.destroy();
        reject(
          new LostInstrument(
            `${words} does not answer at ${host}:${String(port)} within ${String(PATIENCE.connect / 1000)} s.`,
          ),
        );
      }, PATIENCE.connect);
      socket.once('connect', () => {
        clearTimeout(late);
        resolve();
      });
      socket.once('error', (error) => {
        clearTimeout(late);
        reject(new LostInstrument(`${words} cannot be reached at ${host}:${String(port)}: ${error.message}.`));
      });
    });
    return new InstrumentLine(words, socket);
  }

  /** Tell it something, and have it say whether it took it: an instrument that refuses in silence is not left so. */
  async tell(command: string): Promise<void> {
    const answer = await this.ask(`${command};:SYSTem:ERRor?`);
    if (!/^[+]?0\s*,/.test(answer)) throw new InstrumentRefusal(`${this.words} refuses “${command}”: ${answer}.`);
  }

  /** Ask it something: one line. */
  async ask(command: string, patience = PATIENCE.answer): Promise<string> {
    return new TextDecoder().decode(await this.put(command, false, patience)).trim();
  }

  /** Ask it for a number. */
  async number(command: string): Promise<number> {
    const answer = await this.ask(command);
    const value = Number(answer);
    if (answer === '' || !Number.isFinite(value))
      throw new InstrumentRefusal(`${this.words} answers “${answer}” to “${command}”, where a number is expected.`);
    return value;
  }

  /** Ask it for a block of bytes. */
  async block(command: string, patience = PATIENCE.answer): Promise<Uint8Array> {
    return this.put(command, true, patience);
  }

  close(): void {
    this.gone ??= new LostInstrument(`${this.words} was left.`);
    this.socket.end();
    this.socket.destroySoon();
  }

  private put(command: string, binary: boolean, patience: number): Promise<Uint8Array> {
    return new Promise((resolve, reject) => {
      if (this.gone) {
        reject(this.gone);
        return;
      }
      this.waiting.push({ command, binary, patience, resolve, reject });
      this.next();
    });
  }

  private next(): void {
    if (this.asked || this.gone) return;
    this.asked = this.waiting.shift();
    if (!this.asked) return;
    const { command, patience } = this.asked;
    this.timer = setTimeout(() => {
      // What would come late could be taken for the answer to something else: the line is given up.
      this.lose(`${this.words} has not answered “${command}” within ${String(patience / 1000)} s.`);
      this.socket.destroy();
    }, patience);
    this.socket.write(`${command}\n`);
  }

  private take(bytes: Uint8Array): void {
    const joined = new Uint8Array(this.received.length + bytes.length);
    joined.set(this.received);
    joined.set(bytes, this.received.length);
    this.received = joined;
    if (joined.length > MOST) {
      this.lose(`${this.words} sends more than ${String(MOST / 1e6)} MB at once.`);
      this.socket.destroy();
      return;
    }
    const { asked } = this;
    if (!asked) return;
    if (asked.binary) {
      const length = blockLength(joined);
      if (length === undefined) return;
      if (length === 'no-block') {
        if (!joined.includes(NEWLINE)) return;
        this.answered(new TextDecoder().decode(joined).trim());
        return;
      }
      // The line ends with a newline after the block.
      if (joined.length < length.to + 1) return;
      this.received = joined.slice(length.to + 1);
      this.done(joined.slice(length.from, length.to));
      return;
    }
    const end = joined.indexOf(NEWLINE);
    if (end < 0) return;
    this.received = joined.slice(end + 1);
    this.done(joined.slice(0, end));
  }

  private answered(text: string): void {
    this.received = new Uint8Array(0);
    const { asked } = this;
    this.finish();
    asked?.reject(
      new InstrumentRefusal(`${this.words} answers “${text}” to “${asked.command}”, where a block is expected.`),
    );
    this.next();
  }

  private done(answer: Uint8Array): void {
    const { asked } = this;
    this.finish();
    asked?.resolve(answer);
    this.next();
  }

  private finish(): void {
    clearTimeout(this.timer);
    this.asked = undefined;
  }

  private lose(why: string): void {
    if (this.gone) return;
    this.gone = new LostInstrument(why);
    const { asked } = this;
    this.finish();
    for (const one of [...(asked ? [asked] : []), ...this.waiting.splice(0)]) one.reject(this.gone);
  }
}
