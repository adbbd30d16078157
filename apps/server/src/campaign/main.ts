/**
 * `npm run campaign`: kills the program during intake and during its first start, again and again, and counts what was
 * lost. Parts by name (intake, starts) and a number as seed. Ends with exit code 1 when anything was.
 */
import { intakeKills, startKills } from './kills';

const INTAKE_KILLS = 100;
const START_KILLS = 30;
const words = process.argv.slice(2);
const seed = Number(words.find((w) => /^\d+$/.test(w)) ?? Math.floor(Math.random() * 1e6));
const parts = words.filter((w) => ['intake', 'starts'].includes(w));
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
process.exitCode = bad ? 1 : 0;
