import { readdirSync, readFileSync } from 'node:fs';
import { join } from 'node:path';
import { describe, expect, it } from 'vitest';

const ROOT = join(import.meta.dirname, '../../..');
const FOLDERS = ['packages/contract/src', 'packages/operations/src', 'packages/formats/src', 'apps/web/src'];

/** Words that are gone, as docs/words.md has them: the column on the right. */
const GONE: Array<[phrase: RegExp, instead: string]> = [
  [/pictures? with a place/i, 'georeferenced image'],
  [/\b(that were|was|are|be|been) taken in\b(?! (as|by|to|from))/i, 'imported'],
  [/\bstray points?\b|\bfar strays\b|\bflag strays\b/i, 'noise points'],
  [/none of the series['"]/i, 'stray event'],
  [/\blet go of (the|measuring)/i, 'clear, cancel'],
  [/\bbox alone\b/i, 'clip to box'],
  [/\bground alone\b/i, 'ground points only'],
  [/\bkind of land\b/i, 'terrain type'],
  [/\bfound (−|less) given\b/i, 'measured − reference'],
  [/\bwithout a partner\b/i, 'unpaired'],
  [/\bpick is good to\b|\blever arm good to\b/i, 'pointing SD, lever-arm SD'],
  [/\btilt on 100 m\b/i, 'tilt per 100 m'],
  [/\bviews are cut at\b/i, 'maximum view distance'],
  [/\bsmallest void listed\b/i, 'minimum void area'],
  [/['">]never mind['"<]/i, 'cancel'],
  [/\bin hand['"<]/i, 'in progress'],
];

function sources(folder: string): string[] {
  return readdirSync(folder, { withFileTypes: true }).flatMap((e) => {
    const path = join(folder, e.name);
    if (e.isDirectory()) return sources(path);
    return /\.(ts|vue)$/.test(e.name) && !/\.test\.ts$|generated/.test(e.name) ? [path] : [];
  });
}
/** What a person may read of a source: its comments are for others. */
const shown = (text: string) =>
  text
    .replace(/<!--[\s\S]*?-->/g, '')
    .replace(/\/\*[\s\S]*?\*\//g, '')
    .replace(/^\s*\/\/.*$/gm, '');

describe('words of screens, declarations and notices', () => {
  const texts = FOLDERS.flatMap((f) => sources(join(ROOT, f))).map((path) => ({
    path: path.slice(ROOT.length + 1),
    text: shown(readFileSync(path, 'utf8')),
  }));

  it.each(GONE)('%s is not among them', (phrase, instead) => {
    const found = texts.filter((t) => phrase.test(t.text)).map((t) => `${t.path}: say ${instead}`);
    expect(found).toEqual([]);
  });

  it('are looked for where they would be', () => {
    expect(texts.length).toBeGreaterThan(400);
    expect(GONE.some(([phrase]) => phrase.test(shown("label: 'Ground alone', // nothing")))).toBe(true);
    expect(shown('/** Kind of land. */ const a = 1;')).not.toMatch(/land/);
  });
});
