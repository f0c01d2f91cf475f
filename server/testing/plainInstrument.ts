import net from 'node:net';

/**
 * A second stand-in, written from docs/instruments.md alone and sharing no line with the first: a supply, a load and a meter in one
 * program, about a board that is a plain formula. It answers in pieces, as slow firmware does.
 */
export interface PlainInstrument {
  readonly port: number;
  readonly said: string[];
  /** Pull the plug. */
  readonly pull: () => Promise<void>;
}

export interface PlainBoard {
  volts: number;
  limit: number;
  on: boolean;
  amps: number;
  drawing: boolean;
}

export const plainBoard = (): PlainBoard => ({ volts: 0, limit: 1, on: false, amps: 0, drawing: false });

/** 5 V at nine tenths, and 10 mA for itself. */
const drawn = (b: PlainBoard): number =>
  b.on && b.volts > 0 ? (5 * (b.drawing ? b.amps : 0)) / 0.9 / b.volts + 0.01 : 0;

type Role = 'supply' | 'load' | 'meter' | 'oscilloscope';

export async function plainInstrument(role: Role, board: PlainBoard, port = 0): Promise<PlainInstrument> {
  const said: string[] = [];
  const wrong: string[] = [];
  const reply = (unit: string): string | Buffer | undefined => {
    const upper = unit.toUpperCase();
    const argument = unit.split(/\s+/)[1] ?? '';
    if (upper === '*IDN?') return `Plain,${role},1,2`;
    if (upper === '*CLS') return void (wrong.length = 0);
    if (upper === '*OPC?') return '1';
    if (/^SYST(EM)?:ERR(OR)?\?$/.test(upper)) return wrong.shift() ?? '+0,"No error"';
    if (role === 'supply') {
      if (/^VOLT(AGE)? /.test(upper)) return void (board.volts = Number(argument));
      if (/^CURR(ENT)? /.test(upper)) return void (board.limit = Number(argument));
      if (/^OUTP(UT)? ON/.test(upper)) return void (board.on = true);
      if (/^OUTP(UT)? OFF/.test(upper)) return void (board.on = false);
      if (/^MEAS(URE)?:VOLT(AGE)?\?$/.test(upper)) return (board.on ? board.volts : 0).toFixed(3);
      if (/^MEAS(URE)?:CURR(ENT)?\?$/.test(upper)) return Math.min(drawn(board), board.limit).toExponential(4);
      if (/^STAT(US)?:LIM(IT)?\?$/.test(upper)) return drawn(board) > board.limit ? '1' : '0';
    }
    if (role === 'load') {
      if (/^MODE /.test(upper)) return undefined;
      if (/^CURR(ENT)? /.test(upper)) return void (board.amps = Number(argument));
      if (/^INP(UT)? ON/.test(upper)) return void (board.drawing = true);
      if (/^INP(UT)? OFF/.test(upper)) return void (board.drawing = false);
      if (/^MEAS(URE)?:VOLT(AGE)?\?$/.test(upper)) return board.on ? '4.9950' : '0.0000';
      if (/^MEAS(URE)?:CURR(ENT)?\?$/.test(upper)) return (board.drawing ? board.amps : 0).toFixed(4);
    }
    if (role === 'meter') {
      if (upper === 'CHANNEL:LIST?' || upper === 'CHAN:LIST?') return 'inputVoltage,outputVoltage';
      if (/^MEAS(URE)?\? INPUTVOLTAGE$/.test(upper)) return String(board.on ? board.volts - 0.02 * drawn(board) : 0);
      if (/^MEAS(URE)?\? OUTPUTVOLTAGE$/.test(upper)) return board.on ? '5.0001E+0' : '0';
    }
    if (role === 'oscilloscope') {
      if (upper === 'CHANNEL:LIST?') return 'output voltage|switch node';
      if (/^MEASURE:PTPEAK\?/.test(upper)) return '0.0125';
      if (/^CAPTURE /.test(upper)) return undefined;
      if (upper === 'WAVEFORM:START?') return '-1E-6';
      if (upper === 'WAVEFORM:INCREMENT?') return '1E-7';
      if (upper === 'WAVEFORM:UNIT?') return 'V';
      if (upper === 'WAVEFORM:DATA?') {
        const data = Buffer.alloc(40);
        for (let k = 0; k < 10; k += 1) data.writeFloatLE(k / 8, 4 * k);
        return Buffer.concat([Buffer.from('#240'), data]);
      }
    }
    wrong.push('-113,"what is that"');
    return unit.includes('?') ? '' : undefined;
  };
  const clients = new Set<net.Socket>();
  const server = net.createServer((client) => {
    clients.add(client);
    client.on('error', () => undefined);
    let text = '';
    client.on('data', (bytes) => {
      text += bytes.toString('latin1');
      const lines = text.split('\n');
      text = lines.pop() ?? '';
      for (const line of lines) {
        said.push(line);
        const answers = line
          .split(';')
          .map((unit) => reply(unit.trim().replace(/^:/, '')))
          .filter((answer) => answer !== undefined);
        if (answers.length === 0) continue;
        const whole = Buffer.concat([
          ...answers.flatMap((answer, k) => [
            Buffer.from(k > 0 ? ';' : ''),
            Buffer.isBuffer(answer) ? answer : Buffer.from(answer),
          ]),
          Buffer.from('\n'),
        ]);
        const middle = Math.ceil(whole.length / 2);
        client.write(whole.subarray(0, middle));
        setTimeout(() => client.writable && client.write(whole.subarray(middle)), 2);
      }
    });
  });
  await new Promise<void>((resolve) => server.listen(port, '127.0.0.1', resolve));
  return {
    port: (server.address() as net.AddressInfo).port,
    said,
    pull: async () => {
      for (const client of clients) client.destroy();
      await new Promise<void>((resolve) => server.close(() => resolve()));
    },
  };
}
