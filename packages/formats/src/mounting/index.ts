import { mountingToJson, parseMounting, type Mounting } from '@longheron/core/frames';
import { Problem } from '@longheron/core/shared';
import { decodeText } from '../csv';

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
