import { execFile } from 'node:child_process';
import { mkdtempSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';

/** Run a netlist unchanged in ngspice, the independent engine of the checks; gives its measurements by name. */
export function runNetlist(netlist: string): Promise<(name: string) => number> {
  const file = join(mkdtempSync(join(tmpdir(), 'yundro-netlist-')), 'stage.cir');
  writeFileSync(file, netlist);
  return new Promise((resolve, reject) => {
    execFile('ngspice', ['-b', file], { maxBuffer: 1e8 }, (error, out) => {
      if (error) reject(new Error(out.slice(-500)));
      else resolve((name) => Number(new RegExp(`${name}\\s*=\\s*(\\S+)`).exec(out)?.[1]));
    });
  });
}

/**
 * A netlist with the series inductance of its capacitors taken out. Where a switch steps the current of a capacitor that inductance
 * makes a spike of the edge's making, which a ripple of the waveform between the edges, the engine's, does not contain.
 */
export const withoutSpikes = (netlist: string): string =>
  netlist.replace(/^l_(\w+) (\w+)_r \2_l .*\n/gm, 'r_$1_short $2_r $2_l 1e-6\n').replace(/^rd_.*\n/gm, '');
