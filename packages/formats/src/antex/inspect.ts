import { readFile } from 'node:fs/promises';
import { type Inspect } from '../format/facts';
import { readAntennas } from './read';

/** Facts of antenna calibrations. */
export const inspectAntennas: Inspect = async ({ path, name }, out) => {
  const antennas = readAntennas(await readFile(path), name);
  const receivers = antennas.filter((a) => !/^[A-Z]\d\d$/.test(a.serial));
  out.count = antennas.length;
  const first = receivers.slice(0, 8).map((a) => a.type.replace(/ +/g, ' '));
  out.details.push(
    ['Receiver antennas', String(receivers.length)],
    ['Satellites', String(antennas.length - receivers.length)],
    ['Types', first.join(', ') + (receivers.length > first.length ? ', …' : '')],
  );
};
