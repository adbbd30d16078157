import { computed, watch } from 'vue';
import { type MapPath } from '../map/paths';
import { pairs, useOutlines } from '../stages/outlines';
import { useProject } from '../stores/project';
import { useView } from '../stores/view';
import { crossAt, nearestStation, railOf, turnedBy, type Rail } from './rail';

const TRAJECTORY = 'trajectory';
const HALF_M = 15;
const WIDTH_M = 2;

/** Leads sections along the trajectory or a line of the project. @param path of the trajectory. */
export function useRail(path: () => MapPath | null | undefined) {
  const store = useProject();
  const view = useView();
  const files = computed(() => store.ofKind('outlines'));
  const { lines } = useOutlines(() => files.value);
  const offered = computed(() => [
    ...(path() ? [{ key: TRAJECTORY, label: 'the trajectory' }] : []),
    ...lines.value.map((l) => ({ key: `line ${l.name}`, label: l.name })),
  ]);
  const rail = computed<Rail | null>(() => {
    const key = view.rail?.key;
    const p = path();
    if (key === TRAJECTORY && p) return railOf(p.eastingM.map((e, i) => [e, p.northingM[i]]));
    const line = lines.value.find((l) => `line ${l.name}` === key);
    return line ? railOf(pairs(line.parts[0])) : null;
  });
  function apply(): void {
    const [r, at] = [rail.value, view.rail];
    if (r && r.at.length > 1 && at)
      view.section = crossAt(r, at.stationM, at.halfM, view.section?.widthM ?? WIDTH_M, at.turnDeg);
  }
  /** @param key of what is offered; '' draws sections freely again. */
  function choose(key: string): void {
    if (!key) {
      view.rail = null;
      return;
    }
    const s = view.section;
    const halfM = s ? Math.max(1, Math.hypot(s.to[0] - s.from[0], s.to[1] - s.from[1]) / 2) : HALF_M;
    view.rail = { key, stationM: 0, halfM, turnDeg: 0 };
    const r = rail.value;
    if (!r) return;
    const middle = s ? ([(s.from[0] + s.to[0]) / 2, (s.from[1] + s.to[1]) / 2] as const) : undefined;
    go(middle ? nearestStation(r, middle) : r.lengthM / 2);
  }
  function go(stationM: number): void {
    const r = rail.value;
    if (!r || !view.rail) return;
    view.rail = { ...view.rail, stationM: Math.max(0, Math.min(r.lengthM, stationM)) };
    apply();
  }
  function setHalf(halfM: number): void {
    if (!view.rail || !(halfM > 0)) return;
    view.rail = { ...view.rail, halfM: Math.min(500, halfM) };
    apply();
  }
  /** Turns the section about its middle, clockwise. */
  function turn(deg: number): void {
    if (rail.value && view.rail) {
      view.rail = { ...view.rail, turnDeg: (view.rail.turnDeg + deg) % 360 };
      apply();
    } else if (view.section) view.section = turnedBy(view.section, deg);
  }
  // a line that is drawn by hand, or closed, ends it
  watch(
    () => view.section,
    (s) => {
      if (!s) view.rail = null;
    },
  );
  return { offered, rail, choose, go, setHalf, turn };
}
