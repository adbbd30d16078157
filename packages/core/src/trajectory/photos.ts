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
/** A pair at the very limit still counts for more than none, seconds. */
const LEAST = 1e-6;
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
    pairs: [],
    eventsAlone: everyEvent,
    photosAlone: order,
    clockS: Number.NaN,
    by: 'none',
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

/**
 * Pairs in the order of both, of which together least is off: each pair counts for what it is nearer than `WITHIN_S`,
 * so that one without counterpart on either side does not shift those behind it (heaviest increasing chain).
 */
function walk(events: ArrayLike<number>, photos: readonly Photo[], order: number[], clock: number): PhotoPair[] {
  const n = order.length;
  /** A link of a chain: its pair, what it weighs with all before it, and the link before. */
  interface Link {
    event: number;
    at: number;
    weight: number;
    before: Link | undefined;
  }
  // the heaviest chain that ends at photograph k or before, in a tree of prefixes (Fenwick 1994)
  const tree = new Array<Link | undefined>(n + 1);
  const upTo = (k: number) => {
    let best: Link | undefined;
    for (; k > 0; k -= k & -k) if (tree[k] && tree[k]!.weight > (best?.weight ?? 0)) best = tree[k];
    return best;
  };
  let first = 0;
  for (let event = 0; event < events.length; event++) {
    const off = (at: number) => photos[order[at]].takenS - clock - events[event];
    while (first < n && off(first) < -WITHIN_S) first++;
    let last = first;
    while (last < n && off(last) <= WITHIN_S) last++;
    // from behind: no two of one event stand in a chain
    for (let at = last - 1; at >= first; at--) {
      const before = upTo(at);
      const link = { event, at, weight: (before?.weight ?? 0) + WITHIN_S - Math.abs(off(at)) + LEAST, before };
      for (let k = at + 1; k <= n; k += k & -k) if (link.weight > (tree[k]?.weight ?? 0)) tree[k] = link;
    }
  }
  const out: PhotoPair[] = [];
  for (let link = upTo(n); link; link = link.before) {
    const photo = order[link.at];
    out.push({ event: link.event, photo, offS: photos[photo].takenS - clock - events[link.event] });
  }
  return out.reverse();
}
