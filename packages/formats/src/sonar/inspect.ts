import { WEEK_S } from '@longheron/core/time';
import { findGaps } from '@longheron/core/trajectory';
import { noteIn, toGaps, type Inspect, type Note } from '../format/facts';
import { type SonarInfo } from './describe';
import { SonarFile } from './read';

const DEG = Math.PI / 180;
/** Speed with which ranges are shown before any cast is known, m/s. */
const ABOUT_MPS = 1480;

/** Facts and findings of a sonar file: pings, beams, channels, span, ranges, gaps, doubled and disordered times. */
export const inspectSonar: Inspect = async ({ path, name }, out, watch) => {
  const file = await SonarFile.open(path, name);
  try {
    const { info } = file;
    const note = noteIn(out);
    const times = file.pingTimes();
    const looked = timesOf(times, note, '/bathy/gps_sow');
    let [nearest, farthest, detected, negative] = [Infinity, 0, 0, 0];
    for (const p of file.blocks()) {
      watch?.progress?.(p.first / Math.max(1, info.pings), 'Reading pings');
      if (watch?.signal?.aborted) break;
      for (let i = 0; i < p.travelS.length; i++) {
        const t = p.travelS[i];
        if (p.quality[i] === 0 || t !== t) continue;
        if (t < 0) {
          negative++;
          continue;
        }
        detected++;
        const range = (t / 2) * ABOUT_MPS;
        if (range < nearest) nearest = range;
        if (range > farthest) farthest = range;
      }
    }
    out.count = info.pings || Math.max(0, ...info.channels.map((c) => c.pings));
    const span = looked ?? spanOfChannels(file);
    if (span) {
      out.startGps = info.week * WEEK_S + span[0];
      out.endGps = info.week * WEEK_S + span[1];
      if (info.pings > 1) out.rateHz = Math.round((10 * (info.pings - 1)) / (span[1] - span[0])) / 10;
    }
    out.gaps = toGaps(findGaps(sorted(times), 5, 1), info.week);
    extentOf(file, out);
    const said = (v: number, unit: string, digits = 0) =>
      Number.isFinite(v) ? `${v.toFixed(digits)} ${unit}` : 'not said';
    out.details.push(
      ['Instrument', info.sonar || 'not said'],
      ['Frequency', said(info.frequencyHz / 1000, 'kHz')],
      ['Beams', info.beams ? `${info.beams}, ${said(info.beamwidthAcrossDeg, '°', 1)} across` : 'none'],
      ['Soundings', info.pings ? `${detected} of ${info.pings * info.beams}` : 'none'],
      ['Ranges', detected ? `${nearest.toFixed(1)} to ${farthest.toFixed(1)} m` : 'none'],
      [
        'Side-scan',
        info.channels.map((c) => `${c.name} ${said(c.frequencyHz / 1000, 'kHz')}, ${c.pings} pings`).join('; ') ||
          'none',
      ],
      ['Navigation', info.fixes ? `${info.fixes} fixes` : 'none'],
      ['Motion', info.motions ? `${info.motions} rows` : 'none'],
      ['Deviations', info.pings ? `${info.rangeSdM} m, ${info.angleSdDeg}°` : 'not said'],
    );
    findings(info, detected, negative, note);
  } finally {
    file.close();
  }
};

function findings(info: SonarInfo, detected: number, negative: number, note: Note): void {
  if (negative)
    note(
      'sonar-travel',
      'error',
      `${negative} travel times are negative.`,
      'They are left out.',
      'Depths with the sign turned were exported: export two-way travel times.',
      '/bathy/travel_s',
    );
  if (info.pings && !detected)
    note(
      'sonar-empty',
      'error',
      'No beam of any ping detected anything.',
      'There is nothing to reduce.',
      'Check the export.',
      '/bathy/travel_s',
    );
  if (info.binned)
    note(
      'sonar-binned',
      'warning',
      'The soundings were put into cells already.',
      'Each stands for several beams; grids made of them are binned once more.',
      'Export the raw detections where there are any.',
      '/, attribute binned',
    );
  if (!info.motions)
    note(
      'sonar-motion',
      'warning',
      'The file holds no roll, pitch, heading and heave.',
      'Only with a trajectory can it be reduced.',
      'Compute or import the trajectory of the vessel.',
    );
  if (!info.fixes)
    note(
      'sonar-navigation',
      'warning',
      'The file holds no navigation.',
      'Only with a trajectory can it be reduced.',
      'Compute or import the trajectory of the vessel.',
    );
}

const sorted = (times: Float64Array) => times.slice().sort();

/** Notes doubled and disordered times. @returns first and last; undefined when there are none. */
function timesOf(times: Float64Array, note: Note, place: string): [number, number] | undefined {
  const n = times.length;
  if (!n) return undefined;
  let [doubled, backwards, at] = [0, 0, -1];
  let [low, high] = [Infinity, -Infinity];
  for (let i = 0; i < n; i++) {
    if (times[i] < low) low = times[i];
    if (times[i] > high) high = times[i];
    if (i === 0) continue;
    if (times[i] === times[i - 1]) doubled++;
    else if (times[i] < times[i - 1]) {
      if (backwards++ === 0) at = i;
    }
  }
  if (doubled)
    note(
      'sonar-doubled',
      'warning',
      `${doubled} pings have the time of the one before.`,
      'All are reduced.',
      'Check whether the recording was joined twice.',
      place,
    );
  if (backwards)
    note(
      'sonar-order',
      'warning',
      `Times of pings run backwards ${backwards} times, first at ping ${at}.`,
      'Pings are placed by their times; lines may be cut wrongly.',
      'Check the recording.',
      `${place}, row ${at}`,
    );
  return [low, high];
}

function spanOfChannels(file: SonarFile): [number, number] | undefined {
  let out: [number, number] | undefined;
  for (const c of file.info.channels) {
    if (!c.pings) continue;
    const ends = [0, c.pings - 1].map((i) => file.readSidescan(c, i, i + 1).sow[0]);
    out = out ? [Math.min(out[0], ends[0]), Math.max(out[1], ends[1])] : [ends[0], ends[1]];
  }
  return out;
}

function extentOf(file: SonarFile, out: Parameters<Inspect>[1]): void {
  const nav = file.navigation();
  if (!nav) return;
  const min = [Infinity, Infinity, Infinity];
  const max = [-Infinity, -Infinity, -Infinity];
  for (let i = 0; i < nav.sow.length; i++)
    [nav.lonRad[i] / DEG, nav.latRad[i] / DEG, nav.hEllM[i]].forEach((v, k) => {
      if (v < min[k]) min[k] = v;
      if (v > max[k]) max[k] = v;
    });
  if (!Number.isFinite(min[0])) return;
  const height = Number.isFinite(min[2]) ? [min[2], max[2]] : [0, 0];
  out.extent = { min: [min[0], min[1], height[0]], max: [max[0], max[1], height[1]], crs: 'geographic' };
}
