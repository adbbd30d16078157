import { spawn, type ChildProcess } from 'node:child_process';
import { createServer } from 'node:net';
import { join } from 'node:path';

const root = process.env.LONGHERON_ROOT ?? process.cwd();

const freePort = () =>
  new Promise<number>((resolve) => {
    const probe = createServer().listen(0, '127.0.0.1', () => {
      const { port } = probe.address() as { port: number };
      probe.close(() => resolve(port));
    });
  });

export const sleep = (ms: number) => new Promise<void>((resolve) => setTimeout(resolve, ms));

/** Waits until something is found. @throws Error after so many seconds. */
export async function until<T>(found: () => Promise<T | undefined | false>, seconds: number, what: string): Promise<T> {
  const began = Date.now();
  for (;;) {
    const value = await found().catch(() => undefined);
    if (value) return value;
    if (Date.now() - began > seconds * 1000) throw new Error(`waited ${seconds} s in vain for ${what}`);
    await sleep(50);
  }
}

/** The program as `./start` runs it, on a folder, to be started and killed. */
export class Program {
  private child: ChildProcess | undefined;
  private port = 0;
  /** What it said since it was last started. */
  said = '';

  constructor(
    readonly folder: string,
    private readonly more: string[] = ['--without-demo'],
  ) {}

  get base(): string {
    return `http://127.0.0.1:${this.port}`;
  }

  /** Starts the process, without waiting for it. */
  async launch(): Promise<void> {
    this.port = await freePort();
    this.said = '';
    const args = [join(root, 'scripts/start.mjs'), ...this.more, '--port', String(this.port), '--data', this.folder];
    this.child = spawn(process.execPath, args, {
      stdio: ['ignore', 'pipe', 'pipe'],
      env: { ...process.env, LONGHERON_ROOT: root, LONGHERON_BUILT: '1' },
    });
    const hear = (data: Buffer) => (this.said += data.toString());
    this.child.stdout!.on('data', hear);
    this.child.stderr!.on('data', hear);
  }

  /** Starts and waits until it answers. @throws Error with what it said when it ends instead. */
  async start(seconds = 90): Promise<void> {
    await this.launch();
    const answered = await until(
      async () => {
        if (this.child!.exitCode !== null) return 'ended';
        return (await fetch(`${this.base}/api/projects`)).ok ? 'answers' : undefined;
      },
      seconds,
      'an answer',
    ).catch((error: Error) => error.message);
    if (answered !== 'answers') throw new Error(`The program ${answered}; it said: ${this.said}`);
  }

  private async end(signal: NodeJS.Signals): Promise<void> {
    const { child } = this;
    if (!child || child.exitCode !== null || child.signalCode !== null) return;
    const gone = new Promise<void>((resolve) => child.once('exit', () => resolve()));
    child.kill(signal);
    await gone;
  }

  /** As a cut of power would end it, but for the database, which lives on. */
  kill = () => this.end('SIGKILL');
  /** As a person ends it. */
  stop = () => this.end('SIGINT');

  async get<T>(path: string): Promise<T> {
    const r = await fetch(`${this.base}/api${path}`);
    if (!r.ok) throw new Error(`${path}: ${r.status}`);
    return (await r.json()) as T;
  }

  post(path: string, body: unknown = {}): Promise<Response> {
    return fetch(`${this.base}/api${path}`, {
      method: 'POST',
      headers: { 'Content-Type': 'application/json', Origin: this.base },
      body: JSON.stringify(body),
    });
  }

  /** Uploads a file in pieces that can go on. @returns whether the server said that it has it. */
  upload = async (project: number, name: string, bytes: Uint8Array) => (await this.send(project, name, bytes)).ok;

  /** Uploads a file. @returns whether the server said that it has it, and otherwise what it said. */
  async send(project: number, name: string, bytes: Uint8Array): Promise<{ ok: boolean; text: string }> {
    const b64 = (text: string) => Buffer.from(text).toString('base64');
    const tus = { 'Tus-Resumable': '1.0.0', Origin: this.base };
    const metadata = `filename ${b64(name)},project ${b64(String(project))}`;
    const made = await fetch(`${this.base}/api/uploads`, {
      method: 'POST',
      headers: { ...tus, 'Upload-Length': String(bytes.length), 'Upload-Metadata': metadata },
    });
    if (made.status !== 201) return { ok: false, text: await made.text() };
    const url = new URL(made.headers.get('location')!, `${this.base}/api/uploads/`).href;
    const sent = await fetch(url, {
      method: 'PATCH',
      headers: { ...tus, 'Upload-Offset': '0', 'Content-Type': 'application/offset+octet-stream' },
      body: Buffer.from(bytes),
    });
    return { ok: sent.status === 204, text: await sent.text() };
  }
}
