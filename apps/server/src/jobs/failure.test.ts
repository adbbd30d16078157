import { tmpdir } from 'node:os';
import { writeFile } from 'node:fs/promises';
import { expect, it } from 'vitest';
import { Problem } from '@longheron/core/shared';
import { isFullDisk } from '../storage/fullDisk';
import { failureOf } from './failure';

it('a full disk is named, with what is left and what to do', async () => {
  // a file that never has room
  const error = await writeFile('/dev/full', 'x').catch((e: unknown) => e);
  const failure = await failureOf(error, tmpdir());
  expect(failure.message).toMatch(/^The disk is full, \d+ MB are left\.$/);
  expect(failure).toMatchObject({ place: tmpdir(), remedy: expect.stringContaining('Make room') });
  // as it comes from a worker thread, or from the database
  expect((await failureOf(new Error('ENOSPC: no space left on device, write'), '/nowhere')).message).toBe(
    'The disk is full.',
  );
});

it('a full disk is told wherever it was met', () => {
  const fault = Object.assign(new Error('An unexpected fault stopped the job.'), {
    log: 'Error: ENOSPC: write\n at x',
  });
  const table = new Error("(conn:9, no: 1114, SQLState: HY000) The table 'revisions' is full");
  for (const error of [fault, table, Object.assign(new Error('write'), { code: 'ENOSPC' })])
    expect(isFullDisk(error)).toBe(true);
  for (const error of [new Error('The bucket is full'), undefined, Object.assign(new Error('x'), { code: 'ENOENT' })])
    expect(isFullDisk(error)).toBe(false);
});

it('a problem is said as it was, and another error by its message', async () => {
  const problem = new Problem('The file ends early.', { code: 'x', file: 'r.h5', place: 'byte 3', remedy: 'Copy it.' });
  expect(await failureOf(problem, '/')).toEqual({
    message: 'The file ends early.',
    file: 'r.h5',
    place: 'byte 3',
    remedy: 'Copy it.',
  });
  expect(await failureOf(new Error('odd'), '/')).toEqual({ message: 'odd' });
});
