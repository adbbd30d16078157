import { computed, onScopeDispose, watch, type ShallowRef } from 'vue';
import { PointFilter } from '@longheron/core/cloud';
import { type DatasetOf } from '@longheron/contract/api';
import { OPEN_M, useCloudLook } from '../stores/cloudLook';
import { useOwnClasses } from '../stores/ownClasses';
import { useSelection } from '../stores/selection';
import { useView } from '../stores/view';
import { type CloudScene } from './CloudScene';
import { className, type Colouring } from './colouring';
import { useGround } from './ground';

/** Limits in words; what is open to one side says so. */
const range = ([low, high]: [number, number]) =>
  high >= OPEN_M ? `from ${low} m` : low <= -OPEN_M ? `to ${high} m` : `${low} to ${high} m`;

const ALL_CLASSES = new Set(Array.from({ length: 256 }, (_, i) => i));

/**
 * Lets a scene follow what is set for looking: colours and their limits, what is hidden, the section, the brush.
 * @param colouring of this view. @param pointsOff whether all points are off. @param fail hears what cannot be read.
 */
export function useSceneLook(
  dataset: () => DatasetOf<'point-cloud'>,
  scene: ShallowRef<CloudScene | null>,
  colouring: () => Colouring,
  limits: () => [number, number],
  pointsOff: () => boolean,
  fail: (message: string) => void,
) {
  const look = useCloudLook();
  const view = useView();
  useGround(dataset, fail, colouring);

  const selection = useSelection();
  const ownClasses = useOwnClasses();
  /** Without a selection of this cloud there is nothing to show alone. */
  const selected = () =>
    selection.dataset === dataset().id && selection.current ? look.selected : ('marked' as const);

  function apply(): void {
    const s = scene.value;
    if (!s) return;
    s.material.paintClasses();
    s.material.colourBy(colouring(), ...limits());
    s.material.showClasses(pointsOff() ? ALL_CLASSES : look.hidden);
    s.material.showRejected(look.rejected);
    s.material.uniforms.selectedShown.value = { marked: 0, only: 1, hidden: 2 }[selected()];
    s.material.clipTo(look.clip ? view.section : null, s.index.origin);
    s.material.filterBy(look.filter, look.groundOf(dataset().id));
    s.material.uniforms.pointPx.value = look.pointPx * Math.min(2, window.devicePixelRatio);
    const t0 = s.index.timeOrigin;
    s.material.uniforms.timeShown.value.set(
      view.brush ? view.brush[0] - t0 : -1e30,
      view.brush ? view.brush[1] - t0 : 1e30,
    );
    s.shading = look.shading;
    s.exaggerate(look.exaggeration3d);
    s.restart();
  }
  let stopped = false;
  onScopeDispose(() => (stopped = true));
  watch(
    () => [
      colouring(),
      limits(),
      pointsOff(),
      look.hiddenClasses,
      look.pointPx,
      look.shading,
      look.rejected,
      look.clip,
      look.filter,
      look.grounds,
      look.exaggeration3d,
      view.section,
      view.brush,
      selected(),
      ownClasses.list,
    ],
    () => !stopped && apply(),
    { deep: true },
  );
  watch(
    () => look.parallel,
    (p) => scene.value?.setParallel(p),
  );

  /** What is filtered, for who picks points. */
  const filter = computed(() => {
    const { aboveM, ...attributes } = look.filter;
    const ground = look.groundOf(dataset().id);
    const above = aboveM && ground ? { above: { ...ground, rangeM: aboveM } } : {};
    return new PointFilter(
      { hiddenClasses: [], rejected: 'shown', ...attributes, ...above },
      ground,
      scene.value?.index.origin[2],
    );
  });

  /** What is not shown, in words. */
  const hiddenWords = computed(() => {
    const out: string[] = [];
    const { countsByClass: counts, rejected } = dataset().revision.content as {
      countsByClass?: Record<string, number>;
      rejected?: number;
    };
    const classes = look.hiddenClasses.filter((c) => counts?.[c]);
    if (classes.length) out.push(`hidden: ${classes.map(className).join(', ')}`);
    if (rejected && look.rejected !== 'shown')
      out.push(look.rejected === 'hidden' ? 'rejected points hidden' : 'only rejected points');
    if (look.clip && view.section) out.push('only the box');
    if (view.brush) out.push('only the brushed time');
    if (view.hiddenLayers.includes('marks')) out.push('marks hidden');
    const f = look.filter;
    if (f.echoes) out.push(`only ${f.echoes.join(' and ')} echoes`);
    if (f.strips) out.push(`only strip ${f.strips.join(', ')}`);
    if (f.intensity) out.push(`only intensity ${f.intensity.join(' to ')}`);
    if (f.sdMostM !== undefined) out.push(`only SD of height to ${(100 * f.sdMostM).toFixed(1)} cm`);
    if (f.heightM) out.push(`only heights ${range(f.heightM)}`);
    if (f.aboveM) out.push(`only ${range(f.aboveM)} above ground`);
    if (selected() !== 'marked')
      out.push(selected() === 'only' ? 'only what is selected' : 'what is selected is hidden');
    if (pointsOff()) out.push('points are off');
    return out;
  });
  return { apply, filter, hiddenWords };
}
