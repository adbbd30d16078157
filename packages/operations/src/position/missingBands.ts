import { systemOf, type Observations } from '@longheron/core/gnss';
import { type Notice } from '@longheron/core/shared';

/** Shorter pauses of a band are not spoken of, seconds; nor more satellites than so many. */
const WORTH_SAYING_S = 10;
const MAX_SATELLITES = 4;
/** A band that a satellite has in less than this share of its epochs is none that could be missed. */
const HAS = 0.2;
/** Away for this share of the time, all satellites together, a band's absence is more than a passing thing. */
const OFTEN = 0.1;

/** A satellite that was tracked while one of its bands was not. */
export interface MissingBand {
  satellite: string;
  band: string;
  /** All pauses together, seconds, and when the longest began. */
  secondsAway: number;
  longestSow: number;
}

/** Pauses of single bands, the longest first. @param intervalS time between epochs. */
export function missingBands(obs: Observations, intervalS: number): MissingBand[] {
  const phases = new Map<string, Array<{ band: string; columns: number[] }>>();
  for (const [system, types] of Object.entries(obs.types)) {
    const bands = new Map<string, number[]>();
    types.forEach((t, column) => {
      if (t.startsWith('L')) bands.set(t[1], [...(bands.get(t[1]) ?? []), column]);
    });
    phases.set(
      system,
      [...bands].map(([band, columns]) => ({ band, columns })),
    );
  }
  const rows: number[][] = obs.satellites.map(() => []);
  const epochOf: number[][] = obs.satellites.map(() => []);
  for (let e = 0; e < obs.sow.length; e++)
    for (let row = obs.start[e]; row < obs.start[e + 1]; row++) {
      rows[obs.satellite[row]].push(row);
      epochOf[obs.satellite[row]].push(e);
    }
  const out: MissingBand[] = [];
  obs.satellites.forEach((satellite, s) => {
    const bands = phases.get(systemOf(satellite)) ?? [];
    const there = bands.map(({ columns }) =>
      rows[s].map((row) => columns.some((c) => Number.isFinite(obs.values[row * obs.width + c]))),
    );
    bands.forEach(({ band }, b) => {
      const share = there[b].filter(Boolean).length / Math.max(1, rows[s].length);
      if (share < HAS || share === 1) return;
      const away = (k: number) => !there[b][k] && there.some((other, o) => o !== b && other[k]);
      let secondsAway = 0;
      let longest = { seconds: 0, sow: 0 };
      for (let k = 0; k < rows[s].length; k++) {
        if (!away(k)) continue;
        const first = k;
        while (k + 1 < rows[s].length && away(k + 1) && epochOf[s][k + 1] === epochOf[s][k] + 1) k++;
        const seconds = (k - first + 1) * intervalS;
        if (seconds < WORTH_SAYING_S) continue;
        secondsAway += seconds;
        if (seconds > longest.seconds) longest = { seconds, sow: obs.sow[epochOf[s][first]] };
      }
      if (secondsAway > 0) out.push({ satellite, band, secondsAway, longestSow: longest.sow });
    });
  });
  return out.sort((a, b) => b.secondsAway - a.secondsAway);
}

/** A notice of bands that were missing, with satellites, times and what it means. */
export function missingBandNotice(
  obs: Observations,
  who: 'rover' | 'base',
  clock: (sow: number) => string,
): Notice | undefined {
  if (obs.sow.length < 2) return undefined;
  const steps = Array.from(obs.sow.subarray(1), (t, k) => t - obs.sow[k]).sort((a, b) => a - b);
  const found = missingBands(obs, steps[steps.length >> 1]);
  if (found.length === 0) return undefined;
  const shown = found
    .slice(0, MAX_SATELLITES)
    .map((m) => `${m.satellite} L${m.band} for ${m.secondsAway.toFixed(0)} s, from ${clock(m.longestSow)} on`);
  const more = found.length - shown.length;
  const lastedS = obs.sow[obs.sow.length - 1] - obs.sow[0];
  const often = found.reduce((sum, m) => sum + m.secondsAway, 0) > OFTEN * lastedS * obs.satellites.length;
  return {
    code: 'position-band',
    severity: often ? 'warning' : 'info',
    place: `GPS time ${clock(found[0].longestSow)}, ${found[0].satellite}`,
    text: `The ${who} tracked satellites without one of their bands: ${shown.join('; ')}${more > 0 ? `; and ${more} more` : ''}.`,
    effect:
      'One band alone tells lost counts less surely and the ionosphere not at all; both begin anew when it returns.',
    ...(often && { remedy: 'Look for interference near the antenna, or leave the band out for the whole session.' }),
  };
}
