// Writes the lists of what stands in folders: each operation, kind and question is a file or folder of its own, found here.
import { existsSync, mkdirSync, readdirSync, readFileSync, writeFileSync } from 'node:fs';
import { dirname, join } from 'node:path';
import { fileURLToPath } from 'node:url';

const root = dirname(dirname(fileURLToPath(import.meta.url)));
const HEAD = '// Written by scripts/generate.mjs: not to be edited.\n';

/** Names of the single files of a folder. */
const files = (folder) =>
  readdirSync(join(root, folder))
    .filter((n) => /^[a-z][\w-]*\.ts$/.test(n) && !/^index\.|\.test\./.test(n))
    .map((n) => n.slice(0, -3))
    .sort();

/** Names of the folders of a folder that have an index. */
const folders = (folder) =>
  readdirSync(join(root, folder), { withFileTypes: true })
    .filter((e) => e.isDirectory() && existsSync(join(root, folder, e.name, 'index.ts')))
    .map((e) => e.name)
    .sort();

const id = (name) => name.replace(/-(\w)/g, (_, c) => c.toUpperCase()).replace(/^(export|default)$/, '$1Kind');

function write(path, text) {
  const full = join(root, path);
  const whole = HEAD + text;
  if (existsSync(full) && readFileSync(full, 'utf8') === whole) return;
  mkdirSync(dirname(full), { recursive: true });
  writeFileSync(full, whole);
}

const entry = (n) => `  ${id(n) === n ? n : `'${n}': ${id(n)}`},\n`;

export function generate() {
  const operations = files('packages/contract/src/operations');
  write(
    'packages/contract/src/operations/index.generated.ts',
    `${operations.map((n) => `import ${id(n)} from './${n}';\n`).join('')}
export const OPERATIONS = {\n${operations.map(entry).join('')}};\n`,
  );
  const kinds = files('packages/contract/src/kinds');
  write(
    'packages/contract/src/kinds/index.generated.ts',
    `import { type KindDeclaration } from '../declare/kind';
${kinds.map((n) => `import ${id(n)}, { type Content as ${id(n)}Content } from './${n}';\n`).join('')}
/** What the content of a revision holds, by the kind of its dataset. */
export interface Contents {\n${kinds.map((n) => `  '${n}': ${id(n)}Content;\n`).join('')}}
export const KINDS: { [K in keyof Contents]: KindDeclaration<Contents[K]> } = {\n${kinds.map(entry).join('')}};\n`,
  );
  const formats = folders('packages/formats/src').filter(
    (n) => n !== 'format' && existsSync(join(root, 'packages/formats/src', n, 'about.ts')),
  );
  write(
    'packages/formats/src/registry/index.generated.ts',
    `${formats.map((n) => `import ${id(n)} from '../${n}';\n`).join('')}
/** Every format, by the name of its folder. */
export const FORMATS = {\n${formats.map(entry).join('')}};
export type FormatName = keyof typeof FORMATS;\n`,
  );
  write(
    'packages/contract/src/formats/index.generated.ts',
    `import { pointsOf } from './points';
${formats.map((n) => `import ${id(n)} from '@longheron/formats/${n}/about';\n`).join('')}
/** What each format is, by the name of its folder. */
export const FORMATS = {\n${formats.map(entry).join('')}};
/** Every way in which points are written. */
export const POINT_FORMATS = {\n${formats.map((n) => `  ...pointsOf(${id(n)}),\n`).join('')}};\n`,
  );
  const questions = 'packages/operations/src/questions';
  if (existsSync(join(root, questions))) {
    const names = folders(questions);
    write(
      `${questions}/index.generated.ts`,
      `${names.map((n) => `import type ${id(n)} from './${n}';\n`).join('')}
/** What can be asked of a worker thread, by name. */
export interface Questions {\n${names.map((n) => `  '${n}': typeof ${id(n)};\n`).join('')}}\n`,
    );
  }
}

generate();
