import { existsSync, readdirSync, readFileSync, renameSync, rmSync, statSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { diskFull, run } from './command.mjs';
import { say, SetupError } from './say.mjs';

const OLDEST_NODE = [20, 12];

/** Node.js new enough, or a sentence. */
export function checkNode(version = process.versions.node) {
  const [major, minor] = version.split('.').map(Number);
  const [wantMajor, wantMinor] = OLDEST_NODE;
  if (major > wantMajor || (major === wantMajor && minor >= wantMinor)) return;
  throw new SetupError(
    `Node.js ${version} is too old: install Node.js ${OLDEST_NODE.join('.')} or newer and start again.`,
  );
}

/** Install the npm packages when they are missing or older than the lockfile. */
export async function ensurePackages(root) {
  const lock = join(root, 'package-lock.json');
  const stamp = join(root, 'node_modules', '.yundro-lock');
  const wanted = readFileSync(lock, 'utf8');
  if (existsSync(stamp) && readFileSync(stamp, 'utf8') === wanted) return;
  say('Installing npm packages …');
  const { code, output } = await run('npm', ['ci', '--no-audit', '--no-fund'], { cwd: root });
  if (code !== 0) {
    throw (
      diskFull(output) ??
      new SetupError(`npm could not install the packages (is the registry reachable?): ${lastLine(output)}`)
    );
  }
  writeFileSync(stamp, wanted);
}

const lastLine = (output) =>
  output
    .trim()
    .split('\n')
    .filter((line) => /error/i.test(line))
    .slice(-1)[0] ??
  output.trim().split('\n').at(-1) ??
  '';

/**
 * Install a Debian package when the file it brings is not there: with apt-get when root, otherwise a sentence with the
 * command to run.
 */
async function ensureDebian(packages, present) {
  if (present()) return;
  const command = `apt-get install -y ${packages.join(' ')}`;
  if (process.getuid?.() !== 0)
    throw new SetupError(`Yundro needs ${packages.join(' and ')}: run “sudo ${command}” and start again.`);
  say(`Installing ${packages.join(', ')} …`);
  const env = { ...process.env, DEBIAN_FRONTEND: 'noninteractive' };
  await run('apt-get', ['update', '-q'], { env });
  const { code, output } = await run('apt-get', ['install', '-y', '-q', '--no-install-recommends', ...packages], {
    env,
  });
  if (code !== 0 || !present()) {
    throw (
      diskFull(output) ??
      new SetupError(`${packages.join(' and ')} could not be installed; run “${command}” to see why, then start again.`)
    );
  }
}

const DEBIAN_POSTGRES = '/usr/lib/postgresql';

/** Folder of the newest PostgreSQL server programs on this machine, or undefined. */
export function postgresPrograms() {
  if (!existsSync(DEBIAN_POSTGRES)) return undefined;
  const versions = readdirSync(DEBIAN_POSTGRES).filter((v) => existsSync(join(DEBIAN_POSTGRES, v, 'bin', 'postgres')));
  const newest = versions.sort((a, b) => Number(b) - Number(a))[0];
  return newest === undefined ? undefined : join(DEBIAN_POSTGRES, newest, 'bin');
}

export const ensurePostgres = () => ensureDebian(['postgresql'], () => postgresPrograms() !== undefined);
export const ensureSpice = () => ensureDebian(['ngspice'], () => existsSync('/usr/bin/ngspice'));
export const CHROMIUM = '/usr/bin/chromium';
export const ensureChromium = () => ensureDebian(['chromium'], () => existsSync(CHROMIUM));

function newestIn(folder) {
  let newest = 0;
  for (const entry of readdirSync(folder, { withFileTypes: true, recursive: true })) {
    if (entry.isFile() && !/\/(dist|node_modules)(\.new|\.old)?(\/|$)/.test(entry.parentPath))
      newest = Math.max(newest, statSync(join(entry.parentPath, entry.name)).mtimeMs);
  }
  return newest;
}

/** What is built, out of what, and into which folder. */
const BUILDS = [
  {
    what: 'interface',
    sources: ['web', 'core/src'],
    folder: 'web/dist',
    proof: 'index.html',
    build: (out) => [
      'npx',
      ['--no-install', 'vite', 'build', 'web', '--outDir', out, '--emptyOutDir', '--logLevel', 'error'],
    ],
  },
  {
    what: 'server',
    sources: ['server', 'core/src'],
    folder: 'server/dist',
    proof: 'main.mjs',
    build: (out) => ['node', ['scripts/buildServer.mjs', out]],
  },
];

/**
 * Build interface and server where their sources, or the core's, are newer than what was built. Each is made beside its place and
 * put there when it is whole, so that one cut short is never served, and a running server keeps what it serves.
 */
export async function ensureBuilt(root, { anew = false } = {}) {
  for (const { what, sources, folder, proof, build } of BUILDS) {
    const place = join(root, folder);
    const built = join(place, proof);
    const newest = Math.max(
      ...sources.map((source) => newestIn(join(root, source))),
      statSync(join(root, 'package-lock.json')).mtimeMs,
    );
    if (!anew && existsSync(built) && statSync(built).mtimeMs > newest) continue;
    say(`Building the ${what} …`);
    const fresh = `${place}.new`;
    rmSync(fresh, { recursive: true, force: true });
    const [command, words] = build(fresh);
    const { code, output } = await run(command, words, { cwd: root });
    if (code !== 0) throw diskFull(output) ?? new SetupError(`The ${what} could not be built: ${output.trim()}`);
    const old = `${place}.old`;
    rmSync(old, { recursive: true, force: true });
    if (existsSync(place)) renameSync(place, old);
    renameSync(fresh, place);
    rmSync(old, { recursive: true, force: true });
  }
}
