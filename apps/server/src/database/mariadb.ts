import { execFileSync, spawn, type ChildProcess } from 'node:child_process';
import { randomBytes } from 'node:crypto';
import { existsSync, mkdirSync, openSync, readFileSync, writeFileSync } from 'node:fs';
import { createServer } from 'node:net';
import { tmpdir, userInfo } from 'node:os';
import { join } from 'node:path';
import mariadb from 'mariadb';

/** Our own MariaDB on loopback: its folder, port and password. */
export interface Database {
  port: number;
  password: string;
  /** Stops the server when this process started it. */
  stop(): Promise<void>;
}

interface Settings {
  port: number;
  password: string;
  pid: number;
}

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

async function answers(port: number, user: string, password: string | undefined): Promise<boolean> {
  try {
    const c = await mariadb.createConnection({ host: '127.0.0.1', port, user, password, connectTimeout: 2000 });
    await c.end();
    return true;
  } catch {
    return false;
  }
}

/** Starts the database on `folder`, or uses one that is still running there. */
export async function startDatabase(folder: string, say: (text: string) => void): Promise<Database> {
  mkdirSync(folder, { recursive: true, mode: 0o700 });
  const settingsPath = join(folder, 'longheron.json');
  const data = join(folder, 'mariadb');
  const known = existsSync(settingsPath) ? (JSON.parse(readFileSync(settingsPath, 'utf8')) as Settings) : undefined;
  if (known && (await answers(known.port, 'longheron', known.password))) {
    say(`Using the database already running on this folder (port ${known.port}).`);
    return { ...known, stop: async () => stopPid(known.pid) };
  }
  const fresh = !existsSync(join(data, 'mysql'));
  if (fresh) {
    say('Making the database folder …');
    execFileSync(
      binary('mariadb-install-db'),
      [
        '--no-defaults',
        `--datadir=${data}`,
        '--auth-root-authentication-method=normal',
        '--skip-test-db',
        `--user=${userInfo().username}`,
      ],
      { stdio: 'ignore' },
    );
  }
  const port = await freePort();
  const password = known?.password ?? randomBytes(18).toString('base64url');
  const log = openSync(join(folder, 'mariadb.log'), 'a');
  const child = spawn(
    binary('mariadbd'),
    [
      '--no-defaults',
      `--user=${userInfo().username}`,
      `--datadir=${data}`,
      '--bind-address=127.0.0.1',
      `--port=${port}`,
      `--socket=${join(tmpdir(), `longheron-${process.pid}.sock`)}`,
      '--character-set-server=utf8mb4',
      '--collation-server=utf8mb4_unicode_ci',
      '--innodb-buffer-pool-size=512M',
    ],
    { detached: true, stdio: ['ignore', log, log] },
  );
  const user = fresh ? 'root' : 'longheron';
  const started = Date.now();
  while (!(await answers(port, user, fresh ? undefined : password))) {
    if (child.exitCode !== null)
      throw new Error(
        `The database stopped at once; its log is ${join(folder, 'mariadb.log')}. Is another one running on this folder?`,
      );
    if (Date.now() - started > 60000)
      throw new Error(`The database does not answer; its log is ${join(folder, 'mariadb.log')}.`);
    await new Promise((r) => setTimeout(r, 150));
  }
  if (fresh) {
    const c = await mariadb.createConnection({ host: '127.0.0.1', port, user: 'root' });
    await c.query('CREATE DATABASE longheron CHARACTER SET utf8mb4 COLLATE utf8mb4_unicode_ci');
    await c.query(`CREATE USER longheron@'127.0.0.1' IDENTIFIED BY '${password}'`);
    await c.query(`GRANT ALL ON longheron.* TO longheron@'127.0.0.1'`);
    await c.query(`ALTER USER root@localhost IDENTIFIED BY '${password}'`);
    await c.end();
  }
  writeFileSync(settingsPath, JSON.stringify({ port, password, pid: child.pid }), { mode: 0o600 });
  return { port, password, stop: () => stopChild(child) };
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
    for (let i = 0; i < 200; i++) {
      process.kill(pid, 0);
      await new Promise((r) => setTimeout(r, 50));
    }
  } catch {
    // gone
  }
}
