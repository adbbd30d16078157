import { onScopeDispose } from 'vue';
import { useDocumentVisibility, useEventListener, useIntervalFn } from '@vueuse/core';
import { CLOSE_PX_PER_M, cellOf, cellsAlong, SECTION_PX_PER_M, type LookKind } from '@longheron/core/cloud';
import { useProject } from '../stores/project';
import { type SectionLine } from '../section/cut';
import { type CloudScene } from './CloudScene';

const EVERY_MS = 1000;
const SEND_MS = 8000;
/** Who has not stirred for so long is not looking. */
const AWAY_MS = 60_000;
const MAX_SAMPLES = 15_000;

/** Cells of one cloud that are before the eye, gathered and sent now and then. */
class Gatherer {
  private readonly seconds = new Map<string, number>();
  private sentAt = performance.now();

  constructor(private readonly url: () => string) {}

  add(cells: Iterable<[number, number]>, how: LookKind): void {
    for (const [x, y] of cells) {
      const key = `${x} ${y} ${how}`;
      this.seconds.set(key, (this.seconds.get(key) ?? 0) + EVERY_MS / 1000);
    }
    if (performance.now() - this.sentAt > SEND_MS) this.send();
  }

  send(): void {
    this.sentAt = performance.now();
    if (this.seconds.size === 0) return;
    const looks = [...this.seconds].map(([key, seconds]) => {
      const [x, y, how] = key.split(' ');
      return { x: Number(x), y: Number(y), how, seconds };
    });
    this.seconds.clear();
    // what does not arrive was not seen by anybody else either: nothing is lost but a few seconds of looking
    void fetch(this.url(), {
      method: 'POST',
      keepalive: looks.length < 800,
      headers: { 'Content-Type': 'application/json' },
      body: JSON.stringify({ looks: looks.slice(0, 20_000) }),
    }).catch(() => undefined);
  }
}

/** Calls every second in which somebody is there to look, with what is to be gathered. */
function useGathering(dataset: () => number, look: (g: Gatherer) => void): void {
  const store = useProject();
  const visible = useDocumentVisibility();
  let stirredAt = performance.now();
  for (const event of ['pointermove', 'pointerdown', 'keydown', 'wheel'] as const)
    useEventListener(window, event, () => (stirredAt = performance.now()), { passive: true });
  const gatherers = new Map<number, Gatherer>();
  const of = (id: number) => {
    let g = gatherers.get(id);
    if (!g) gatherers.set(id, (g = new Gatherer(() => `/api/projects/${store.project?.id ?? 0}/datasets/${id}/looks`)));
    return g;
  };
  useIntervalFn(() => {
    if (visible.value === 'visible' && performance.now() - stirredAt < AWAY_MS) look(of(dataset()));
  }, EVERY_MS);
  const sendAll = () => gatherers.forEach((g) => g.send());
  useEventListener(window, 'pagehide', sendAll);
  onScopeDispose(sendAll);
}

/** Keeps where a cloud view shows points at close range, once it has drawn them in full. */
export function useLooking3d(dataset: () => number, scene: () => CloudScene | null): void {
  useGathering(dataset, (g) => {
    const s = scene();
    if (!s?.report.finished) return;
    g.add(closeCells(s), 'close');
  });
}

/** Cells of points that are in the picture with so many pixels a metre. */
function closeCells(s: CloudScene): Iterable<[number, number]> {
  const m = s.toPicture();
  const [e0, n0] = s.index.origin;
  const found = new Map<string, [number, number]>();
  const step = Math.max(1, Math.ceil(s.report.points / MAX_SAMPLES));
  const { shown } = s.material;
  for (const { node, data } of s.visible()) {
    const [cx, cy, cz] = node.corner;
    for (let i = 0; i < node.count; i += step) {
      const [x, y, z] = [data.position[3 * i] + cx, data.position[3 * i + 1] + cy, data.position[3 * i + 2] + cz];
      const w = m[3] * x + m[7] * y + m[11] * z + m[15];
      if (w <= 0 || s.pixelsPerMetre(w) < CLOSE_PX_PER_M || !shown[4 * data.codes[4 * i]]) continue;
      const px = (m[0] * x + m[4] * y + m[8] * z + m[12]) / w;
      const py = (m[1] * x + m[5] * y + m[9] * z + m[13]) / w;
      if (px < -1 || px > 1 || py < -1 || py > 1 || s.material.cutOff(x, y)) continue;
      const cell = cellOf(x + e0, y + n0);
      found.set(`${cell[0]} ${cell[1]}`, cell);
    }
  }
  return found.values();
}

/** Keeps where a section is looked at. @param shown its line and the pixels a metre that it is drawn with; null when it is not. */
export function useLookingSection(
  dataset: () => number,
  shown: () => { line: SectionLine; pxPerM: number } | null,
): void {
  useGathering(dataset, (g) => {
    const now = shown();
    if (now && now.pxPerM >= SECTION_PX_PER_M) g.add(cellsAlong(now.line), 'section');
  });
}
