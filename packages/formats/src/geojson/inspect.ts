import { readFile } from 'node:fs/promises';
import { type Inspect } from '../format/facts';
import { readOutlines } from './read';

/** Facts of areas and lines. */
export const inspectOutlines: Inspect = async ({ path, name }, out) => {
  const { outlines, horizontal } = readOutlines(await readFile(path), name);
  out.count = outlines.length;
  const named = (kind: 'area' | 'line') => outlines.filter((o) => o.kind === kind).map((o) => o.name);
  const system =
    horizontal === 0
      ? 'longitude and latitude'
      : typeof horizontal === 'object' && horizontal
        ? horizontal.name
        : horizontal
          ? `EPSG:${horizontal}`
          : 'none named';
  out.details.push(
    ['Areas', named('area').join(', ') || 'none'],
    ['Lines', named('line').join(', ') || 'none'],
    ['Coordinates', system],
  );
  if (horizontal === null)
    out.findings.push({
      code: 'outline-crs',
      severity: 'warning',
      file: out.name,
      text: 'The areas and lines name no coordinate system, and are no longitude and latitude.',
      effect: "They are taken to be in the project's system.",
      remedy: 'Write the file in longitude and latitude, or with the "crs" member.',
    });
};
