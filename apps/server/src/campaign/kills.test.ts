import { spawn } from 'node:child_process';
import { mkdtemp, readFile, rm, writeFile } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { lockFolder } from '../storage/folderLock';
import { intakeKills, startKills } from './kills';
import { Program } from './program';

describe('kills at random moments', () => {
  it('during intake lose nothing that was accepted', async () => {
    const { accepted, taken, waiting, lost } = await intakeKills(3, 5);
    expect(lost).toEqual([]);
    expect(accepted).toBeGreaterThan(0);
    expect(taken + waiting).toBe(accepted);
  }, 900_000);

  it('during a first start leave a folder that starts by itself', async () => {
    expect((await startKills(3, 4)).failed).toEqual([]);
  }, 900_000);
});

describe('a folder', () => {
  let folder: string;
  beforeAll(async () => {
    folder = await mkdtemp(join(tmpdir(), 'longheron-lock-'));
  });
  afterAll(() => rm(folder, { recursive: true, force: true }));

  it('is one process’s alone; a lock whose process is gone is taken over, also when its number was given again', async () => {
    const unlock = lockFolder(folder);
    expect(() => lockFolder(folder)).toThrow(/Another Long Heron works on/);
    unlock();
    const gone = spawn('true');
    await new Promise((resolve) => gone.once('exit', resolve));
    await writeFile(join(folder, 'lock'), JSON.stringify({ pid: gone.pid, began: '1' }));
    lockFolder(folder)();
    await writeFile(join(folder, 'lock'), JSON.stringify({ pid: process.pid, began: '1' }));
    const again = lockFolder(folder);
    expect(JSON.parse(await readFile(join(folder, 'lock'), 'utf8'))).toMatchObject({ pid: process.pid });
    again();
    // half-written at a cut of power
    await writeFile(join(folder, 'lock'), '{"pid":');
    lockFolder(folder)();
  });

  it('in use is refused to a second start, in a sentence, and the first goes on', async () => {
    const data = await mkdtemp(join(tmpdir(), 'longheron-two-'));
    const [first, second] = [new Program(data), new Program(data)];
    await first.start();
    await expect(second.start(30)).rejects.toThrow(/Another Long Heron works on/);
    expect(await first.get('/projects')).toEqual([]);
    await first.stop();
    // and is free again
    await second.start();
    await second.stop();
    await rm(data, { recursive: true, force: true });
  }, 900_000);

  it('is left as it was where the port is taken, with nothing running', async () => {
    const data = await mkdtemp(join(tmpdir(), 'longheron-port-'));
    const first = new Program(data);
    await first.start();
    const port = new URL(first.base).port;
    const child = spawn(process.execPath, [
      'scripts/start.mjs',
      '--without-demo',
      '--port',
      port,
      '--data',
      join(data, 'x'),
    ]);
    let said = '';
    child.stderr.on('data', (d: Buffer) => (said += d.toString()));
    expect(await new Promise((resolve) => child.once('exit', resolve))).toBe(1);
    expect(said).toBe(`Port ${port} is taken. Choose another with --port, or stop what runs there.\n`);
    await first.stop();
    await rm(data, { recursive: true, force: true });
  }, 900_000);
});
