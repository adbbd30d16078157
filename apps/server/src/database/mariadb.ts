import { execFileSync, spawn, type ChildProcess } from 'node:child_process';
import { randomBytes } from 'node:crypto';
import {
  existsSync,
  mkdirSync,
  openSync,
  readdirSync,
  readFileSync,
  realpathSync,
  renameSync,
  rmSync,
  writeFileSync,
} from 'node:fs';
import { createServer } from 'node:net';
import { tmpdir, userInfo } from 'node:os';
import { join } from 'node:path';
import mariadb from 'mariadb';

/** Our own MariaDB on loopback: its folder, port and password. */
export interface Database {
  port: number;
  password: string;
  /** Stops the server. */
  stop(): Promise<void>;
}

interface Settings {
  port: number;
  password: string;
  pid: number;
}

const LONGEST_START_MS = 60_000;
/** A database that stops by itself more often than this within the time is not started again. */
const MAX_FALLS = 5;
const FALLS_WITHIN_MS = 600_000;

async function freePort(): Promise<number> {
  return new Promise((resolve, reject) => {
    const probe = createServer();
    probe.once('error', reject);
    probe.listen(0, '127.0.0.1', () => {
      const { port } = probe.address() as { port: number };
      probe.close(() => resolve(port));
    });
  });
}

function binary(name: string): string {
  for (const folder of ['/usr/sbin', '/usr/bin', '/usr/local/sbin', '/usr/local/bin'])
    if (existsSync(join(folder, name))) return join(folder, name);
  throw new Error(`${name} is not installed. Run: apt-get install mariadb-server-core mariadb-client-core`);
}

/** The folder of the database that answers at a port; undefined when none does, or not to us. */
async function folderAt(port: number, password: string): Promise<string | undefined> {
  try {
    const c = await mariadb.createConnection({
      host: '127.0.0.1',
      port,
      user: 'longheron',
      password,
      database: 'longheron',
      connectTimeout: 2000,
    });
    const [row] = await c.query<Array<{ folder: string }>>('SELECT @@datadir AS folder');
    await c.end();
    return row.folder;
  } catch {
    return undefined;
  }
}

const same = (a: string, b: string) => {
  try {
    return realpathSync(a) === realpathSync(b);
  } catch {
    return false;
  }
};

/** A database process on a folder, whoever started it: a start that was cut off leaves one behind. */
function runningOn(data: string): { pid: number; port: number } | undefined {
  for (const name of readdirSync('/proc')) {
    if (!/^\d+$/.test(name)) continue;
    try {
      const words = readFileSync(`/proc/${name}/cmdline`, 'utf8').split('\0');
      const of = (key: string) => words.find((w) => w.startsWith(`--${key}=`))?.slice(key.length + 3);
      const folder = of('datadir');
      if (words[0]?.includes('mariadbd') && folder && same(folder, data))
        return { pid: Number(name), port: Number(of('port')) };
    } catch {
      // it ended meanwhile, or is another person's
    }
  }
  return undefined;
}

/** What was noted of the database at the last start; undefined when nothing was, or it cannot be read. */
function noted(path: string): Settings | undefined {
  try {
    const { port, password, pid } = JSON.parse(readFileSync(path, 'utf8')) as Partial<Settings>;
    return typeof password === 'string' && /^[\w-]{10,}$/.test(password)
      ? { port: port ?? 0, password, pid: pid ?? 0 }
      : undefined;
  } catch {
    return undefined;
  }
}

/** Written beside and renamed: a start that is cut off leaves the old one or the new one. */
function note(path: string, settings: Settings): void {
  writeFileSync(`${path}.new`, JSON.stringify(settings), { mode: 0o600 });
  renameSync(`${path}.new`, path);
}

/** Makes the folder of a new database beside its place: what was cut off is begun anew. */
function install(data: string, say: (text: string) => void): void {
  if (existsSync(data)) return;
  say('Making the database folder …');
  const making = `${data}.new`;
  rmSync(making, { recursive: true, force: true });
  execFileSync(
    binary('mariadb-install-db'),
    [
      '--no-defaults',
      `--datadir=${making}`,
      '--auth-root-authentication-method=normal',
      '--skip-test-db',
      `--user=${userInfo().username}`,
    ],
    { stdio: 'ignore' },
  );
  renameSync(making, data);
}

/** What the database does at each start before it answers: our tables' place, our user, our password. */
const setUp = (password: string) =>
  [
    'CREATE DATABASE IF NOT EXISTS longheron CHARACTER SET utf8mb4 COLLATE utf8mb4_unicode_ci;',
    `CREATE USER IF NOT EXISTS longheron@'127.0.0.1' IDENTIFIED BY '${password}';`,
    `ALTER USER longheron@'127.0.0.1' IDENTIFIED BY '${password}';`,
    `GRANT ALL ON longheron.* TO longheron@'127.0.0.1';`,
    `ALTER USER root@localhost IDENTIFIED BY '${password}';`,
    '',
  ].join('\n');

/**
 * Starts the database on `folder`, or uses one of ours that is still running there. Every step can be repeated: a start
 * that was cut off anywhere goes on at the next.
 */
export async function startDatabase(folder: string, say: (text: string) => void): Promise<Database> {
  mkdirSync(folder, { recursive: true, mode: 0o700 });
  const settingsPath = join(folder, 'longheron.json');
  const data = join(folder, 'mariadb');
  const known = noted(settingsPath);
  const left = existsSync(data) ? runningOn(data) : undefined;
  if (left) {
    if (known && (await folderAt(left.port, known.password)) !== undefined) {
      say(`Using the database already running on this folder (port ${left.port}).`);
      note(settingsPath, { ...known, ...left });
      return { port: left.port, password: known.password, stop: () => stopPid(left.pid) };
    }
    say('A database that was left on this folder does not answer; it is stopped.');
    await stopPid(left.pid);
  }
  install(data, say);
  const port = await freePort();
  const password = known?.password ?? randomBytes(18).toString('base64url');
  note(settingsPath, { port, password, pid: 0 });
  const first = join(folder, 'set-up.sql');
  writeFileSync(first, setUp(password), { mode: 0o600 });
  const log = openSync(join(folder, 'mariadb.log'), 'a');
  const launch = () =>
    spawn(
      binary('mariadbd'),
      [
        '--no-defaults',
        `--user=${userInfo().username}`,
        `--datadir=${data}`,
        `--init-file=${first}`,
        '--bind-address=127.0.0.1',
        `--port=${port}`,
        `--socket=${join(tmpdir(), `longheron-${process.pid}.sock`)}`,
        '--character-set-server=utf8mb4',
        '--collation-server=utf8mb4_unicode_ci',
        '--innodb-buffer-pool-size=512M',
      ],
      { detached: true, stdio: ['ignore', log, log] },
    );
  let child = launch();
  const started = Date.now();
  while ((await folderAt(port, password)) === undefined) {
    if (child.exitCode !== null)
      throw new Error(
        `The database stopped at once; its log is ${join(folder, 'mariadb.log')}. Is the disk full, or another one running on this folder?`,
      );
    if (Date.now() - started > LONGEST_START_MS)
      throw new Error(`The database does not answer; its log is ${join(folder, 'mariadb.log')}.`);
    await new Promise((r) => setTimeout(r, 150));
  }
  note(settingsPath, { port, password, pid: child.pid ?? 0 });
  let stopping = false;
  const falls: number[] = [];
  // a database that falls over is started again, unless it keeps falling
  const watch = () =>
    child.once('exit', () => {
      falls.push(Date.now());
      if (stopping || falls.filter((t) => Date.now() - t < FALLS_WITHIN_MS).length > MAX_FALLS) return;
      child = launch();
      note(settingsPath, { port, password, pid: child.pid ?? 0 });
      watch();
    });
  watch();
  return {
    port,
    password,
    stop: () => {
      stopping = true;
      return stopChild(child);
    },
  };
}

async function stopChild(child: ChildProcess): Promise<void> {
  if (child.exitCode !== null) return;
  const gone = new Promise<void>((resolve) => child.once('exit', () => resolve()));
  child.kill('SIGTERM');
  await gone;
}

async function stopPid(pid: number): Promise<void> {
  try {
    process.kill(pid, 'SIGTERM');
    for (let i = 0; i < 400; i++) {
      process.kill(pid, 0);
      await new Promise((r) => setTimeout(r, 50));
    }
  } catch {
    // gone
  }
}
