import { computed } from 'vue';
import { OPEN_M, useCloudLook } from '../stores/cloudLook';
import { useView } from '../stores/view';
import { type ClipBox } from './clipBox';
import { type CloudScene } from './CloudScene';

/** The box that is shown alone: the section, between the heights of the filter; null while there is none. */
export function useClipBox(scene: () => CloudScene | null) {
  const look = useCloudLook();
  const view = useView();
  return computed<ClipBox | null>(() => {
    const index = scene()?.index;
    if (!index || !look.clip || !view.section) return null;
    const [low, high] = look.filter.heightM ?? [-OPEN_M, OPEN_M];
    // sides that are open are drawn where the points end, strays aside
    const [, from, to] = index.ranges.height ?? [0, index.bounds.min[2], index.bounds.max[2]];
    return { ...view.section, heightM: [low <= -OPEN_M ? from : low, high >= OPEN_M ? to : high] };
  });
}
