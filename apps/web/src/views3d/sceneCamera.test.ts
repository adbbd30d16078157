// @vitest-environment happy-dom
import * as THREE from 'three';
import { beforeEach, describe, expect, it } from 'vitest';
import { type CloudIndex } from '@longheron/contract/api';
import { SceneCamera } from './sceneCamera';

/** A long narrow site: 1 km to the north-east, 60 m wide, with strays far above. */
const INDEX = {
  origin: [467000, 6215000, 0],
  bounds: { min: [467000, 6215000, -20], max: [467060, 6216000, 300] },
  ranges: {
    easting: [467000, 467000, 467060, 467060],
    northing: [6215000, 6215000, 6216000, 6216000],
    height: [-20, 2, 12, 300],
  },
} as unknown as CloudIndex;
const [WIDE, HIGH] = [800, 500];

class Bench extends SceneCamera {
  restarted = 0;
  protected readonly heightPx = HIGH;
  protected stretched(): void {}
  moved(): void {}
  restart(): void {
    this.restarted++;
  }
  frame(): THREE.Box3 {
    return this.box;
  }
  unit(): number {
    return this.pixelsPerMetreAtUnit();
  }
  resize(aspect: number): void {
    this.setAspect(aspect);
  }
}

let bench: Bench;
beforeEach(() => {
  const canvas = document.createElement('canvas');
  Object.defineProperties(canvas, { clientWidth: { value: WIDE }, clientHeight: { value: HIGH } });
  bench = new Bench(canvas, INDEX);
  bench.resize(WIDE / HIGH);
});

/** Where the corners of a box are in the picture, from −1 to 1. */
function corners(box: THREE.Box3): Array<[number, number]> {
  bench.camera.updateMatrixWorld();
  return Array.from({ length: 8 }, (_, k) => {
    const v = new THREE.Vector3(
      k & 1 ? box.max.x : box.min.x,
      k & 2 ? box.max.y : box.min.y,
      k & 4 ? box.max.z : box.min.z,
    ).project(bench.camera);
    return [v.x, v.y];
  });
}

describe('the camera of a cloud', () => {
  it.each([
    ['slanting', undefined],
    ['from above', [0, -0.001, 1]],
    ['from the south', [0, -1, 0.05]],
    ['from the east', [1, 0, 0.05]],
  ] as Array<[string, [number, number, number] | undefined]>)(
    'frames all of a site %s, and as large as it can',
    (_, direction) => {
      bench.frameAll(direction);
      const seen = corners(bench.frame());
      const most = Math.max(...seen.flat().map(Math.abs));
      expect(most).toBeLessThanOrEqual(1);
      expect(most).toBeGreaterThan(0.6);
    },
  );

  it('is not pushed away by strays: heights count from their 2nd to their 98th percentile', () => {
    bench.frameAll();
    expect(bench.frame().min.z).toBeCloseTo(2 - 0.3, 9);
    expect(bench.frame().max.z).toBeCloseTo(12 + 0.3, 9);
  });

  it('frames as well where heights are drawn taller, and keeps its place in metres', () => {
    bench.frameAll();
    const before = bench.getCamera();
    bench.exaggerate(5);
    const after = bench.getCamera();
    before.target.forEach((v, k) => expect(after.target[k]).toBeCloseTo(v, 9));
    bench.frameAll();
    expect(Math.max(...corners(bench.frame()).flat().map(Math.abs))).toBeLessThanOrEqual(1);
    expect(bench.frame().max.z).toBeCloseTo(5 * 12.3, 9);
  });

  it('is set as it was, about another origin too', () => {
    bench.frameAll([1, -1, 0.5]);
    const was = bench.getCamera();
    bench.frameAll([0, -0.001, 1]);
    bench.setCamera(was);
    bench.getCamera().position.forEach((v, k) => expect(v).toBeCloseTo(was.position[k], 9));
    bench.setCamera(was, [100, -50, 2]);
    bench.getCamera().target.forEach((v, k) => expect(v).toBeCloseTo(was.target[k] + [100, -50, 2][k], 9));
  });

  it('draws what is looked at as large in a parallel view as in perspective', () => {
    bench.frameAll();
    const distance = bench.camera.position.distanceTo(bench.controls.target);
    const perspective = bench.unit() / distance;
    bench.setParallel(true);
    expect(bench.camera).toBeInstanceOf(THREE.OrthographicCamera);
    expect(bench.unit()).toBeCloseTo(perspective, 9);
    // half the field of 50° at that distance takes half the picture
    expect(perspective).toBeCloseTo(HIGH / 2 / (distance * Math.tan((25 * Math.PI) / 180)), 9);
    bench.setParallel(true);
    bench.setParallel(false);
    expect(bench.unit() / distance).toBeCloseTo(perspective, 9);
  });

  it('follows the shape of the window', () => {
    bench.frameAll();
    bench.setParallel(true);
    bench.resize(2);
    const c = bench.camera as THREE.OrthographicCamera;
    expect((c.right - c.left) / (c.top - c.bottom)).toBeCloseTo(2, 12);
  });

  it('says from where it looks, also from the very place', () => {
    bench.lookAt(new THREE.Vector3(1, 2, 3), [0, 3, 4], 10);
    bench.direction().forEach((v, k) => expect(v).toBeCloseTo([0, 6, 8][k], 9));
    bench.camera.position.copy(bench.controls.target);
    expect(bench.direction()).toEqual([0, -0.001, 1]);
  });
});
