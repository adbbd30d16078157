import { expect, it } from 'vitest';
import { fullDisk } from './fullDisk';

it('a disk that fills up loses nothing that was accepted, is named, and holds up neither end nor start', async ({
  skip,
}) => {
  const { possible, accepted, taken, failures, inWords, faults } = await fullDisk(3, 21);
  if (!possible) skip('a disk of memory may not be mounted here');
  expect(faults).toEqual([]);
  expect(taken).toBe(accepted);
  expect(inWords).toBe(failures);
  expect(failures).toBeGreaterThan(5);
}, 900_000);
