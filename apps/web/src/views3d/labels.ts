import { ref, shallowRef, watch, type ShallowRef } from 'vue';
import { type MapMark } from '../map/marks';
import { useCloudLook } from '../stores/cloudLook';
import { useView } from '../stores/view';
import { type CloudScene } from './CloudScene';

export interface Label {
  key: string;
  text: string;
  x: number;
  y: number;
  cls: string;
}

/** A place with its name that a view draws besides marks. */
export interface LabelledPlace {
  key: string;
  text: string;
  cls: string;
  at: readonly [number, number, number];
}

/** Names of marks, of the picked point and of what is measured, over the picture; and where north is in it. */
export function useLabels(
  scene: ShallowRef<CloudScene | null>,
  size: () => { width: number; height: number },
  marks: () => MapMark[] | undefined,
  heights: () => Record<string, number> | undefined,
  more: () => LabelledPlace[],
) {
  const look = useCloudLook();
  const view = useView();
  const labels = shallowRef<Label[]>([]);
  /** Degrees clockwise from up. */
  const northDeg = ref(0);

  function project([e, n, h]: readonly [number, number, number]): { x: number; y: number } | null {
    const s = scene.value;
    if (!s) return null;
    const o = s.index.origin;
    const v = s.drawn3(e - o[0], n - o[1], h - o[2]).project(s.camera);
    if (v.z > 1 || v.z < -1 || Math.abs(v.x) > 1.05 || Math.abs(v.y) > 1.05) return null;
    const { width, height } = size();
    return { x: ((v.x + 1) / 2) * width, y: ((1 - v.y) / 2) * height };
  }
  function place(): void {
    const { width, height } = size();
    northDeg.value = scene.value?.northDeg(width, height) ?? northDeg.value;
    const out: Label[] = [];
    const add = ({ key, text, cls, at }: LabelledPlace) => {
      const p = project(at);
      if (p) out.push({ key, text, cls, ...p });
    };
    for (const m of view.hiddenLayers.includes('marks') ? [] : (marks() ?? [])) {
      const h = heights()?.[m.name];
      const strong = view.hoveredMark === m.name || view.selectedMark === m.name;
      if (h !== undefined)
        add({
          key: m.name,
          text: m.name,
          cls: `${m.role}${strong ? ' strong' : ''}`,
          at: [m.eastingM, m.northingM, h],
        });
    }
    const p = look.picked;
    if (p) add({ key: 'picked', text: '', cls: 'picked', at: [p.eastingM, p.northingM, p.heightM] });
    more().forEach(add);
    // names that would lie over each other are left out; their symbols stay
    const named: Label[] = [];
    for (const l of out) {
      if (!l.text || / strong/.test(l.cls)) continue;
      if (named.some((k) => Math.abs(k.y - l.y) < 12 && l.x - k.x < 28 && k.x - l.x < 28)) l.text = '';
      else named.push(l);
    }
    labels.value = out;
  }
  watch(() => [look.picked, view.hiddenLayers, view.hoveredMark, view.selectedMark, marks(), more()], place);
  return { labels, northDeg, place };
}
