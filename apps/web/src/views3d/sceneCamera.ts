import * as THREE from 'three';
import { OrbitControls } from 'three/examples/jsm/controls/OrbitControls.js';
import { type CloudIndex } from '@longheron/contract/api';

/** Slanting looks from the sides, the first where none shows more. */
const SIDES: Array<[number, number, number]> = [
  [-0.35, -0.85, 0.6],
  [-0.85, -0.35, 0.6],
];
/** Field of view of the perspective camera, from top to bottom. */
const FIELD_DEG = 50;
const TAN_HALF = Math.tan(THREE.MathUtils.degToRad(FIELD_DEG / 2));

/** The camera of a cloud: perspective or parallel, framing, heights exaggerated. Places are metres about the cloud's origin. */
export abstract class SceneCamera {
  camera: THREE.PerspectiveCamera | THREE.OrthographicCamera;
  readonly controls: OrbitControls;
  protected zScale = 1;
  protected readonly box = new THREE.Box3();

  constructor(
    protected readonly canvas: HTMLCanvasElement,
    readonly index: CloudIndex,
  ) {
    this.camera = new THREE.PerspectiveCamera(FIELD_DEG, 1, 0.1, 10000);
    this.camera.up.set(0, 0, 1);
    this.controls = new OrbitControls(this.camera, canvas);
    this.controls.enableDamping = false;
    this.controls.zoomToCursor = true;
    this.controls.screenSpacePanning = true;
    this.controls.addEventListener('change', () => this.moved());
  }

  /** Height of the picture, pixels. */
  protected abstract get heightPx(): number;
  /** Stretches what is drawn. */
  protected abstract stretched(factor: number): void;
  abstract moved(): void;
  abstract restart(): void;

  /** How many times taller heights are drawn. The place that is looked at stays in the middle. */
  exaggerate(factor: number): void {
    if (factor === this.zScale) return;
    const by = factor / this.zScale;
    this.zScale = factor;
    this.stretched(factor);
    const dz = this.controls.target.z * (by - 1);
    this.controls.target.z += dz;
    this.camera.position.z += dz;
    this.controls.update();
    this.restart();
  }

  /** A place about the cloud's origin as it is drawn, heights exaggerated. */
  drawn3(x: number, y: number, z: number): THREE.Vector3 {
    return new THREE.Vector3(x, y, z * this.zScale);
  }

  /** Where one looks from and to, metres about the cloud's origin, and the zoom of a parallel view. */
  getCamera(): { position: number[]; target: number[]; zoom: number } {
    const plain = (v: THREE.Vector3) => [v.x, v.y, v.z / this.zScale];
    return { position: plain(this.camera.position), target: plain(this.controls.target), zoom: this.camera.zoom };
  }

  /** @param by added to all places: another cloud may have another zero. */
  setCamera(c: { position: number[]; target: number[]; zoom: number }, by = [0, 0, 0]): void {
    const at = (v: number[]) => this.drawn3(v[0] + by[0], v[1] + by[1], v[2] + by[2]);
    this.controls.target.copy(at(c.target));
    this.camera.position.copy(at(c.position));
    this.camera.zoom = c.zoom;
    this.camera.updateProjectionMatrix();
    this.controls.update();
    this.restart();
  }

  protected setAspect(aspect: number): void {
    if (this.camera instanceof THREE.PerspectiveCamera) this.camera.aspect = aspect;
    else {
      const half = (this.camera.top - this.camera.bottom) / 2;
      this.camera.left = -half * aspect;
      this.camera.right = half * aspect;
    }
    this.camera.updateProjectionMatrix();
  }

  /** Perspective or parallel, keeping what is seen. */
  setParallel(parallel: boolean): void {
    if (parallel === this.camera instanceof THREE.OrthographicCamera) return;
    const aspect = this.canvas.clientWidth / Math.max(1, this.canvas.clientHeight);
    const distance = this.camera.position.distanceTo(this.controls.target);
    const old = this.camera;
    if (parallel) {
      const half = distance * TAN_HALF;
      this.camera = new THREE.OrthographicCamera(-half * aspect, half * aspect, half, -half, -20000, 20000);
    } else this.camera = new THREE.PerspectiveCamera(FIELD_DEG, aspect, 0.1, 10000);
    this.camera.up.set(0, 0, 1);
    this.camera.position.copy(old.position);
    this.camera.quaternion.copy(old.quaternion);
    this.controls.object = this.camera;
    this.camera.updateProjectionMatrix();
    this.controls.update();
    this.restart();
  }

  /**
   * Frames the points between the 2nd and 98th percentile of height, so that strays do not push the camera away; without
   * a direction from the side that shows a long narrow site larger.
   */
  frameAll(direction?: [number, number, number]): void {
    const { min, max } = this.index.bounds;
    const o = this.index.origin;
    const reach = (name: string, k: number): [number, number] => {
      const [, low, high] = this.index.ranges[name] ?? [0, min[k], max[k], 0];
      const spare = 0.03 * (high - low);
      return [low - spare - o[k], high + spare - o[k]];
    };
    (['easting', 'northing', 'height'] as const).forEach((name, k) => {
      const [low, high] = reach(name, k);
      const scale = k === 2 ? this.zScale : 1;
      this.box.min.setComponent(k, low * scale);
      this.box.max.setComponent(k, high * scale);
    });
    const near = (d: [number, number, number]) => this.distanceTo(this.box, d);
    const usual = SIDES.reduce((best, d) => (near(d) < 0.95 * near(best) ? d : best));
    this.frameBox(this.box, direction ?? usual);
  }

  /** Frames a box seen from a direction, as close as all its corners allow. */
  frameBox(box: THREE.Box3, direction: [number, number, number]): void {
    this.lookAt(box.getCenter(new THREE.Vector3()), direction, this.distanceTo(box, direction));
  }

  /** How far from the middle of a box the eye must be to see all its corners. */
  private distanceTo(box: THREE.Box3, direction: [number, number, number]): number {
    const centre = box.getCenter(new THREE.Vector3());
    const to = new THREE.Vector3(...direction).normalize();
    const right = new THREE.Vector3(0, 0, 1).cross(to).normalize();
    const up = to.clone().cross(right);
    const aspect = this.canvas.clientWidth / Math.max(1, this.canvas.clientHeight);
    const corner = new THREE.Vector3();
    let distance = 2;
    for (let k = 0; k < 8; k++) {
      corner
        .set(k & 1 ? box.max.x : box.min.x, k & 2 ? box.max.y : box.min.y, k & 4 ? box.max.z : box.min.z)
        .sub(centre);
      const across = Math.max(Math.abs(corner.dot(right)) / aspect, Math.abs(corner.dot(up)) * 1.12) / TAN_HALF;
      distance = Math.max(distance, corner.dot(to) + across);
    }
    return distance * 1.04;
  }

  /** From what is looked at to the eye. */
  direction(): [number, number, number] {
    const d = this.camera.position.clone().sub(this.controls.target);
    return d.lengthSq() > 0 ? [d.x, d.y, d.z] : [0, -0.001, 1];
  }

  lookAt(centre: THREE.Vector3, direction: [number, number, number], distance: number): void {
    const d = new THREE.Vector3(...direction).normalize();
    this.controls.target.copy(centre);
    this.camera.position.copy(centre).addScaledVector(d, distance);
    if (this.camera instanceof THREE.OrthographicCamera) {
      const half = distance * TAN_HALF;
      const aspect = this.canvas.clientWidth / Math.max(1, this.canvas.clientHeight);
      Object.assign(this.camera, { top: half, bottom: -half, left: -half * aspect, right: half * aspect, zoom: 1 });
    }
    this.controls.update();
    this.restart();
  }

  /** Pixels of a metre on the screen at a depth (the picture's w), metres. */
  pixelsPerMetre(w: number): number {
    const unit = this.pixelsPerMetreAtUnit() / Math.min(2, window.devicePixelRatio);
    return this.camera instanceof THREE.PerspectiveCamera ? unit / w : unit;
  }

  /** Pixels of a metre at a distance of one metre, or anywhere when the view is parallel. */
  protected pixelsPerMetreAtUnit(): number {
    const h = this.heightPx;
    return this.camera instanceof THREE.PerspectiveCamera
      ? h / (2 * Math.tan(THREE.MathUtils.degToRad(this.camera.fov / 2)))
      : (h * this.camera.zoom) / (this.camera.top - this.camera.bottom);
  }
}
