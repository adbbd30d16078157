import { extremes } from '@longheron/core/numeric';
import { type KinematicEpoch, type NoiseModel, type SkyRecord, type Slip } from '@longheron/core/gnss';
import { type Notice } from '@longheron/core/shared';
import { formatGps } from '@longheron/core/time';

/** Shorter stretches that are not fixed are not spoken of, seconds; and no more than so many of them. */
const WORTH_SAYING_S = 10;
const MAX_STRETCHES = 4;
/** After a pause of this length all integers begin anew, seconds, and for this long that is the reason. */
const PAUSE_S = 3;
const RECOVERY_S = 90;
const FEW_SATELLITES = 6;
/** Lost counts by satellite and hour from which on a satellite is not to be relied on. */
const OFTEN = 12;

/** A stretch of epochs that are not fixed, and why. */
export interface Stretch {
  startSow: number;
  endSow: number;
  why: string;
}

/** What happened in a session that a person should know, each with its time. */
export function sessionNotices(epochs: KinematicEpoch[], sky: SkyRecord | undefined, week: number): Notice[] {
  const out: Notice[] = [];
  const clock = (sow: number) => formatGps(week * 604800 + sow, 'gps', 0).slice(11);
  const span = (s: Stretch) =>
    `${clock(s.startSow)} to ${clock(s.endSow)} (${(s.endSow - s.startSow).toFixed(0)} s, ${s.why})`;
  const slips = sky?.slips ?? [];
  const stretches = floatStretches(epochs, slips);
  if (stretches.length) {
    const longest = [...stretches].sort((a, b) => b.endSow - b.startSow - (a.endSow - a.startSow));
    const shown = longest.slice(0, MAX_STRETCHES).sort((a, b) => a.startSow - b.startSow);
    const more = stretches.length - shown.length;
    out.push({
      code: 'position-stretches',
      severity: 'info',
      place: `GPS time ${clock(shown[0].startSow)}`,
      text: `Not fixed: ${shown.map(span).join('; ')}${more ? `; and ${more} shorter` : ''}.`,
      effect: 'Positions there are good to decimetres at best, as they state.',
    });
  }
  const contrary = epochs.filter((e) => e.contrary);
  if (contrary.length)
    out.push({
      code: 'position-contrary',
      severity: 'warning',
      place: `GPS time ${clock(contrary[0].sow)}`,
      text: `Forward and in reverse, ${contrary.length} epochs were fixed to different positions, up to ${extremes(contrary.map((e) => e.separationM))[1].toFixed(2)} m apart.`,
      effect: 'They are called float, and state the difference.',
      remedy: 'Look at the satellites there; one that slips or is reflected may be left out.',
    });
  out.push(...slipNotices(slips, epochs, clock));
  return out;
}

function slipNotices(slips: Slip[], epochs: KinematicEpoch[], clock: (sow: number) => string): Notice[] {
  if (slips.length === 0 || epochs.length === 0) return [];
  const hours = Math.max(0.05, (epochs[epochs.length - 1].sow - epochs[0].sow) / 3600);
  const by = new Map<string, number>();
  for (const s of slips) by.set(s.satellite, (by.get(s.satellite) ?? 0) + 1);
  const often = [...by].filter(([, n]) => n >= 3 && n / hours >= OFTEN).sort((a, b) => b[1] - a[1]);
  const untold = slips.filter((s) => s.sign !== 'told');
  const out: Notice[] = [];
  if (untold.length)
    out.push({
      code: 'position-slips',
      severity: 'info',
      place: `GPS time ${clock(untold[0].sow)}, ${untold[0].satellite}`,
      text: `${untold.length} of ${slips.length} lost counts were not told by a receiver; they were found against the other satellites and between the bands.`,
      effect: 'The ambiguities concerned began anew there.',
    });
  if (often.length)
    out.push({
      code: 'position-slips-often',
      severity: 'warning',
      text: `${often.map(([name, n]) => `${name} lost count ${n} times`).join(', ')}.`,
      effect: 'Such satellites add little, and may be reflected or half hidden.',
      remedy: 'Leave them out if residuals speak against them, too.',
    });
  return out;
}

/** Stretches without a fixed position, with the likeliest reason for each. */
export function floatStretches(epochs: KinematicEpoch[], slips: Slip[]): Stretch[] {
  const out: Stretch[] = [];
  let pauseAt = -Infinity;
  let open: { from: number; to: number } | undefined;
  const close = () => {
    if (!open) return;
    const [a, b] = [epochs[open.from].sow, epochs[open.to].sow];
    if (b - a >= WORTH_SAYING_S) out.push({ startSow: a, endSow: b, why: reason(epochs, open, slips, pauseAt) });
    open = undefined;
  };
  epochs.forEach((e, k) => {
    const pause = k > 0 && e.sow - epochs[k - 1].sow > PAUSE_S;
    if (pause || e.solution === 'fixed') close();
    if (pause) pauseAt = e.sow;
    if (e.solution === 'fixed') return;
    if (open) open.to = k;
    else open = { from: k, to: k };
  });
  close();
  return out;
}

function reason(epochs: KinematicEpoch[], s: { from: number; to: number }, slips: Slip[], pauseAt: number): string {
  const within = epochs.slice(s.from, s.to + 1);
  const [a, b] = [within[0].sow, within[within.length - 1].sow];
  const few = within.filter((e) => e.satellites < FEW_SATELLITES).length;
  if (few > within.length / 2) return 'few satellites';
  if (s.from === 0) return 'at the start';
  if (a - pauseAt < RECOVERY_S) return 'after an outage';
  if (within.some((e) => e.contrary)) return 'forward and reverse contradict each other';
  const lost = slips.filter((p) => p.sow >= a - 10 && p.sow <= b).length;
  if (lost >= 3) return `${lost} lost counts`;
  return 'integers could not be told for certain';
}

/** Elevation for which noise is stated. */
const SIN_45 = Math.SQRT1_2;

/** What a session says of its noise: one receiver, 1 SD at 45° of elevation, means of its bands. */
export function noiseFigures(noise: NoiseModel | undefined, baselineM: number) {
  if (!noise) return undefined;
  const mean = (of: (b: NoiseModel['bands'][number]) => { even: number; low: number }) =>
    Math.sqrt(noise.bands.reduce((s, b) => s + of(b).even + of(b).low / SIN_45 ** 2, 0) / noise.bands.length / 2);
  return {
    code_m: mean((b) => b.code),
    code_multipath_m: mean((b) => b.codePath),
    phase_m: mean((b) => b.phase),
    phase_multipath_m: mean((b) => b.phasePath),
    multipath_s: noise.codeTauS,
    ionosphere_m: noise.ionosphere * baselineM,
  };
}
