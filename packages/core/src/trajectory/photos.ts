import { median } from '../numeric/statistics';

/** A photograph as its file names it; the camera's own clock may be off by any amount. */
export interface Photo {
  name: string;
  /** By the camera's clock, seconds of any beginning; NaN when unknown. */
  takenS: number;
}

export interface PhotoPair {
  /** Place in the list of events, and of photographs. */
  event: number;
  photo: number;
  /** Camera's clock less event, less what all share, seconds; NaN without times. */
  offS: number;
}

export interface PhotoMatch {
  pairs: PhotoPair[];
  /** Events without a photograph, photographs without an event. */
  eventsAlone: number[];
  photosAlone: number[];
  /** What the camera's clock is ahead of GPS time by, seconds; NaN without times. */
  clockS: number;
  by: 'times' | 'order' | 'none';
}

/** Camera clocks are written to a second or its tenth: a photograph this far off its event is another one's. */
const WITHIN_S = 1.2;
/** Events and photographs at the beginning that may be without counterpart. */
const SEARCH = 12;

/**
 * Pairs events and photographs one to one in the order of time. With camera times the clock's offset is found first: the
 * one for which most photographs have an event near by, so that a stray event or a lost photograph does not shift all
 * others. Without, the counts must agree.
 * @param eventsGps times of events, GPS seconds, rising.
 */
export function matchPhotos(eventsGps: ArrayLike<number>, photos: readonly Photo[]): PhotoMatch {
  const n = eventsGps.length;
  const everyEvent = Array.from({ length: n }, (_, k) => k);
  const timed = photos.length > 0 && photos.every((p) => Number.isFinite(p.takenS));
  const order = photos.map((_, k) => k);
  if (timed) order.sort((a, b) => photos[a].takenS - photos[b].takenS);
  const none: PhotoMatch = {
    ...{ pairs: [], eventsAlone: everyEvent, photosAlone: order, clockS: Number.NaN, by: 'none' },
  };
  if (n === 0 || photos.length === 0) return none;
  if (!timed) {
    if (n !== photos.length) return none;
    const pairs = order.map((photo, event) => ({ event, photo, offS: Number.NaN }));
    return { pairs, eventsAlone: [], photosAlone: [], clockS: Number.NaN, by: 'order' };
  }
  let best = none;
  let bestScatter = Infinity;
  for (let e = 0; e < Math.min(n, SEARCH); e++)
    for (let p = 0; p < Math.min(order.length, SEARCH); p++) {
      const found = pairUp(eventsGps, photos, order, photos[order[p]].takenS - eventsGps[e]);
      const scatter = found.pairs.reduce((s, x) => s + Math.abs(x.offS), 0) / Math.max(1, found.pairs.length);
      const more = found.pairs.length - best.pairs.length;
      if (more > 0 || (more === 0 && scatter < bestScatter)) [best, bestScatter] = [found, scatter];
    }
  return best;
}

function pairUp(events: ArrayLike<number>, photos: readonly Photo[], order: number[], clock: number): PhotoMatch {
  let pairs = walk(events, photos, order, clock);
  // once more about the middle of what was found: the first guess hangs on one photograph's rounding
  const shift = pairs.length ? median(pairs.map((p) => p.offS)) : 0;
  pairs = walk(events, photos, order, clock + shift);
  const [usedEvents, usedPhotos] = [new Set(pairs.map((p) => p.event)), new Set(pairs.map((p) => p.photo))];
  return {
    pairs,
    eventsAlone: Array.from({ length: events.length }, (_, k) => k).filter((k) => !usedEvents.has(k)),
    photosAlone: order.filter((k) => !usedPhotos.has(k)),
    clockS: clock + shift,
    by: 'times',
  };
}

function walk(events: ArrayLike<number>, photos: readonly Photo[], order: number[], clock: number): PhotoPair[] {
  const out: PhotoPair[] = [];
  let e = 0;
  for (const [k, photo] of order.entries()) {
    const at = photos[photo].takenS - clock;
    const next = k + 1 < order.length ? photos[order[k + 1]].takenS - clock : Infinity;
    const off = (i: number, t: number) => Math.abs(events[i] - t);
    while (e < events.length && events[e] < at - WITHIN_S) e++;
    if (e >= events.length) break;
    // an event without photograph is passed over, unless the nearer one is rather the next photograph's
    while (e + 1 < events.length && off(e + 1, at) < off(e, at) && off(e + 1, next) > off(e + 1, at)) e++;
    const offS = at - events[e];
    if (Math.abs(offS) > WITHIN_S) continue;
    out.push({ event: e++, photo, offS });
  }
  return out;
}
