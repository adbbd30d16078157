import { fork, type ChildProcess } from 'node:child_process';
import { mkdtemp, readFile, rm, writeFile } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { basename, join } from 'node:path';
import { Random } from '@longheron/core/numeric';
import { checkedAgain } from '@longheron/formats/e57/build';
import { type Read } from './reader';
import { makeSamples } from './samples';

export interface Mutations {
  count: number;
  read: number;
  refused: number;
  /** File, seed of the change, and what happened. */
  faults: string[];
}

/** Time that a file may take: so much, and so much more a megabyte, ms. */
const [EVER_MS, MB_MS] = [2000, 5000];
const MAX_BYTES = 1e9;
/** Files on which a decoder failed, before the process gives way to another. */
const MAX_SPENT = 30;
const EXTREMES = [0, 1, 0x7f, 0x80, 0xff, 0x7fff, 0xffff, 0x7fffffff, 0xffffffff];

/** A file with something wrong in it: bits turned over, numbers at their limits, ends cut off, pieces gone or double. */
export function mutated(bytes: Uint8Array, random: Random): Uint8Array {
  const out = Uint8Array.from(bytes);
  // the beginning says how the rest is read
  const place = () =>
    Math.floor(random.uniform() < 0.6 ? random.between(0, Math.min(out.length, 600)) : random.between(0, out.length));
  const kind = Math.floor(random.between(0, 6));
  if (kind === 0)
    for (let k = 1 + Math.floor(random.between(0, 8)); k > 0; k--)
      out[place()] ^= 1 << Math.floor(random.between(0, 8));
  else if (kind === 1) return out.subarray(0, Math.floor(random.between(0, out.length)));
  else if (kind === 2) {
    const at = place();
    const value = EXTREMES[Math.floor(random.between(0, EXTREMES.length))];
    const width = [1, 2, 4, 8][Math.floor(random.between(0, 4))];
    for (let k = 0; k < width && at + k < out.length; k++) out[at + k] = k < 4 ? (value >>> (8 * k)) & 255 : 0;
  } else if (kind === 3) {
    const [a, b] = [place(), place()].sort((x, y) => x - y);
    return Uint8Array.from([...out.subarray(0, a), ...out.subarray(Math.min(b, a + 400))]);
  } else if (kind === 4) {
    const [a, b] = [place(), place()].sort((x, y) => x - y);
    const piece = out.subarray(a, Math.min(b, a + 400));
    return Uint8Array.from([...out.subarray(0, b), ...piece, ...out.subarray(b)]);
  } else {
    const text = ['-', '9'.repeat(40), '1e308', 'NaN', ',,', '"', '\u0000', '<', '{{', '\r'][
      Math.floor(random.between(0, 10))
    ];
    const at = place();
    return Uint8Array.from([
      ...out.subarray(0, at),
      ...Buffer.from(text),
      ...out.subarray(at + Math.floor(random.between(0, 6))),
    ]);
  }
  return out;
}

/** Readers in processes of their own; one that dies or does not answer is replaced, and counts. */
class Reader {
  private child: ChildProcess | undefined;
  private silent = false;
  private spent = 0;

  constructor(private readonly program: string) {}

  async read(path: string, name: string, maxMs: number): Promise<Read> {
    this.child ??= fork(this.program, [], {
      execArgv: ['--max-old-space-size=900'],
      stdio: ['ignore', 'ignore', 'ignore', 'ipc'],
    });
    const { child } = this;
    const began = performance.now();
    const read = await new Promise<Read>((resolve) => {
      const fault = (message: string) =>
        resolve({ outcome: 'fault', message, ms: performance.now() - began, residentBytes: 0, spent: false });
      const late = setTimeout(() => {
        this.silent = true;
        fault(`no answer in ${(maxMs / 1000).toFixed(0)} s`);
      }, maxMs);
      const gone = (code: number | null, signal: string | null) => {
        clearTimeout(late);
        this.child = undefined;
        fault(`the process ended (${signal ?? code})`);
      };
      child.once('exit', gone);
      child.once('message', (answer: Read) => {
        clearTimeout(late);
        child.off('exit', gone);
        resolve(answer);
      });
      child.send({ path, name });
    });
    // a thread of the program ends at once; here a start would cost more than the reading
    if (read.spent) this.spent++;
    if (this.silent || this.spent >= MAX_SPENT || read.residentBytes > MAX_BYTES) this.end();
    return read.residentBytes > MAX_BYTES && read.outcome !== 'fault'
      ? { ...read, outcome: 'fault', message: `${(read.residentBytes / 1e9).toFixed(1)} GB of memory` }
      : read;
  }

  end(): void {
    this.silent = false;
    this.spent = 0;
    this.child?.removeAllListeners();
    this.child?.kill('SIGKILL');
    this.child = undefined;
  }
}

/**
 * Reads files with something wrong in them, and counts what was no answer in words: faults of ours, processes that died,
 * took too long or too much memory.
 * @param program the reader, as it was built. @param lanes processes at once.
 * @param patience times the usual that a file may take, on a machine that does other things beside.
 */
export async function mutations(
  count: number,
  seed: number,
  program: string,
  lanes = 2,
  say = (_text: string) => {},
  patience = 1,
): Promise<Mutations> {
  const folder = await mkdtemp(join(tmpdir(), 'longheron-mutations-'));
  const out: Mutations = { count: 0, read: 0, refused: 0, faults: [] };
  try {
    const samples = await makeSamples(folder);
    const bytes = await Promise.all(samples.map((path) => readFile(path)));
    const lane = async (l: number) => {
      const reader = new Reader(program);
      for (let k = l; k < count; k += lanes) {
        const which = k % samples.length;
        const name = basename(samples[which]);
        const random = new Random(seed, k);
        const raw = mutated(bytes[which], random);
        // most changes of a scan would be found by its checks alone
        const changed = name.endsWith('.e57') && random.uniform() < 0.8 ? checkedAgain(raw) : raw;
        const path = join(folder, `mutated-${l}`);
        await writeFile(path, changed);
        const read = await reader.read(path, name, patience * (EVER_MS + (MB_MS * changed.length) / 1e6));
        out.count++;
        if (read.outcome === 'fault') {
          out.faults.push(`${name}, change ${k} of seed ${seed}: ${read.message}`);
          say(out.faults[out.faults.length - 1]);
        } else out[read.outcome]++;
        if (out.count % 5000 === 0) say(`${out.count} of ${count} files, ${out.faults.length} faults so far`);
      }
      reader.end();
    };
    await Promise.all(Array.from({ length: lanes }, (_, l) => lane(l)));
    return out;
  } finally {
    await rm(folder, { recursive: true, force: true });
  }
}
