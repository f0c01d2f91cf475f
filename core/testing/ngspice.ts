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
