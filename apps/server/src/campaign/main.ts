/**
 * `npm run campaign`: kills the program during intake and during its first start, fills its disk, again and again, and has
 * files with something wrong in them read; counts what was lost and what was no answer in words. Parts by name (intake,
 * starts, disk, inputs), a number as seed, `--files N`. Ends with exit code 1 when anything was found.
 */
import { join } from 'node:path';
import { intakeKills, startKills } from './kills';
import { fullDisk } from './fullDisk';
import { mutations } from './mutations';

const INTAKE_KILLS = 100;
const START_KILLS = 30;
const FULL_DISKS = 10;
const MUTATED_FILES = 100_000;
const root = process.env.LONGHERON_ROOT ?? process.cwd();
const words = process.argv.slice(2);
const files = words.includes('--files') ? Number(words.splice(words.indexOf('--files'), 2)[1]) : MUTATED_FILES;
const seed = Number(words.find((w) => /^\d+$/.test(w)) ?? Math.floor(Math.random() * 1e6));
const parts = words.filter((w) => ['intake', 'starts', 'disk', 'inputs'].includes(w));
const wanted = (name: string) => parts.length === 0 || parts.includes(name);
const say = (text: string) => process.stdout.write(`${text}\n`);

say(`Seed ${seed}.`);
let bad = 0;
if (wanted('intake')) {
  const { kills, accepted, taken, waiting, lost } = await intakeKills(INTAKE_KILLS, seed, say);
  say(
    `${kills} kills during intake: ${accepted} files accepted, ${taken} taken in, ${waiting} can be run again, ${lost.length} lost.`,
  );
  for (const name of lost) say(`  lost: ${name}`);
  bad += lost.length;
}
if (wanted('starts')) {
  const { kills, failed } = await startKills(START_KILLS, seed, say);
  say(`${kills} kills during start: ${failed.length} starts need a hand.`);
  for (const text of failed) say(`  ${text}`);
  bad += failed.length;
}
if (wanted('disk')) {
  const { possible, rounds, accepted, taken, failures, inWords, faults } = await fullDisk(FULL_DISKS, seed, say);
  say(
    possible
      ? `${rounds} times a full disk: ${accepted} files accepted, ${taken} taken in; ${inWords} of ${failures} failures name it; ${faults.length} faults.`
      : 'A full disk cannot be tried here: a disk of memory may not be mounted.',
  );
  for (const text of faults) say(`  ${text}`);
  bad += faults.length;
}
if (wanted('inputs')) {
  const { count, read, refused, faults } = await mutations(files, seed, join(root, 'dist/node/reader.js'), 2, say);
  say(`${count} changed files: ${read} read, ${refused} refused in words, ${faults.length} faults.`);
  bad += faults.length;
}
process.exitCode = bad ? 1 : 0;
