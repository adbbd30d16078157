import { readFile } from 'node:fs/promises';
import { mountingToJson, parseMounting, type Mounting } from '@longheron/core/frames';
import { Problem } from '@longheron/core/shared';
import { decodeText } from '../csv';
import { format } from '../format';
import about from './about';

export function readMounting(bytes: Uint8Array, file: string): Mounting {
  const text = decodeText(bytes, file);
  let json: unknown;
  try {
    json = JSON.parse(text);
  } catch (error) {
    throw new Problem(`The file is not valid JSON: ${(error as Error).message}.`, {
      code: 'mounting-json',
      file,
      place: 'text',
      remedy: 'Correct the file; commas and quotes are the usual cause.',
    });
  }
  return parseMounting(json, file);
}

export function mountingText(mounting: Mounting): string {
  return `${JSON.stringify(mountingToJson(mounting), null, 2)}\n`;
}

/** Sensors of a vehicle, as we write them. */
export default format({
  about,
  sniff: (look) => (/^\s*\{/.test(look.text) && /"sensors"\s*:/.test(look.text) ? 'words' : undefined),
  async inspect({ path, name }, out) {
    const sensors = Object.keys(readMounting(await readFile(path), name).sensors);
    out.count = sensors.length;
    out.details.push(['Sensors', sensors.join(', ')]);
  },
  open: async (path, name) => readMounting(await readFile(path), name),
});
