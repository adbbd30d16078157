/**
 * `npm run verify`: compares what is computed with the demo site's truth and prints each figure with its target. Ends
 * with exit code 1 when a target is missed.
 */
import { FAR_BASE_PLACE } from '@longheron/site/gnss';
import { drawnBlocks } from './drawnBlocks';
import { cloudFigures } from './cloud';
import { demoFlight } from './demoFlight';
import { drawnSessions } from './drawn';
import { demoPhotographs } from './demoPhotographs';
import { drawnFlights } from './drawnFlights';
import { drawnRides } from './drawnRides';
import { drawnScenes } from './drawnScenes';
import { gnssOverSeeds } from './gnss';
import { inertialOverSeeds, otherJourneys } from './inertial';
import { marksOverSeeds } from './marks';
import { noiseFree, secondOrderMap, statedPrecision } from './place';
import { line, missed } from './truth';

const PARTS = [
  'place',
  'cloud',
  'position',
  'sessions',
  'rides',
  'scenes',
  'flight',
  'flights',
  'photographs',
  'blocks',
];
/** What is named on the command line, or everything; a number is a seed. */
const wanted = process.argv.slice(2).filter((a) => PARTS.includes(a));
const seed = process.argv.slice(2).find((a) => /^\d+$/.test(a));
const runs = (name: string) => wanted.length === 0 || wanted.includes(name);
if (runs('place')) {
  secondOrderMap();
  noiseFree();
  statedPrecision();
}
if (runs('cloud')) {
  cloudFigures();
  marksOverSeeds();
}
if (runs('position')) {
  const solved = gnssOverSeeds(line);
  gnssOverSeeds(line, 'at 8 km', FAR_BASE_PLACE, { fixed: 0.97, planM: 0.015, heightM: 0.03 });
  inertialOverSeeds(line, solved);
  otherJourneys(
    line,
    solved.map((s) => s.seed),
  );
}
if (runs('sessions')) drawnSessions(line, seed === undefined ? undefined : Number(seed));
if (runs('rides')) drawnRides(line, seed === undefined ? undefined : Number(seed));
if (runs('scenes')) drawnScenes(line, seed === undefined ? undefined : Number(seed));
if (runs('flight')) await demoFlight(line);
if (runs('flights')) drawnFlights(line, seed === undefined ? undefined : Number(seed));
if (runs('photographs')) await demoPhotographs(line);
if (runs('blocks')) drawnBlocks(line, seed === undefined ? undefined : Number(seed));
console.log(missed() ? `${missed()} targets missed` : 'all targets met');
process.exitCode = missed() ? 1 : 0;
