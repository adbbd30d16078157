import * as THREE from 'three';
import { type CloudIndex } from '@longheron/contract/api';
import { chooseNodes, readTree, type CloudNode } from './cloudTree';
import { DepthShading } from './depthShading';
import { NodeStore, type NodePoints } from './nodeStore';
import { PointMarker } from './selecting';
import { PointMaterial } from './pointMaterial';
import { SceneCamera } from './sceneCamera';

/** Spacing on screen below which finer points add nothing, pixels. */
const FINEST_PX = 1.1;
const MAX_POINTS_STILL = 4_000_000;
const MIN_POINTS_MOVING = 5_000;
const FRAME_GOAL_MS = 62;
const SLICE_GOAL_MS = 60;
const STILL_AFTER_MS = 140;

export interface FrameReport {
  /** Milliseconds of the last frames drawn while moving, newest last. */
  movingMs: number[];
  points: number;
  /** Everything the view needs is drawn and depth shading is done. */
  finished: boolean;
}

/**
 * Draws one stored cloud on demand. While the view moves: half resolution and a point budget that follows the measured
 * time of a frame. When still: points are added to the kept picture in slices until all that the view needs is drawn,
 * then depth shading once.
 */
export class CloudScene extends SceneCamera {
  readonly renderer: THREE.WebGLRenderer;
  readonly material = new PointMaterial();
  readonly tree: CloudNode[];
  readonly store: NodeStore;
  /** Lines and meshes about the cloud's origin; drawn with the points. */
  readonly extras = new THREE.Group();
  /** Selection and what was done by hand, on the points at hand. */
  readonly marker: PointMarker;
  readonly report: FrameReport = { movingMs: [], points: 0, finished: false };
  onFrame: (() => void) | undefined;
  shading = true;
  private readonly points = new THREE.Group();
  private readonly scene = new THREE.Scene();
  private readonly meshes = new Map<number, THREE.Points>();
  private readonly shade = new DepthShading();
  private still: THREE.WebGLRenderTarget;
  private moving: THREE.WebGLRenderTarget;
  private budget = 60_000;
  private slice = 40_000;
  private lastMoved = -Infinity;
  private mode: 'moving' | 'refining' | 'done' = 'moving';
  private drawn = new Set<number>();
  private chosen: number[] = [];
  private frame = 0;
  private readonly probe = new Uint8Array(4);
  private readonly frustum = new THREE.Frustum();

  constructor(canvas: HTMLCanvasElement, index: CloudIndex) {
    super(canvas, index);
    // colours are mixed as they are written, in points, meshes and lines alike
    THREE.ColorManagement.enabled = false;
    this.renderer = new THREE.WebGLRenderer({ canvas, antialias: false, alpha: false, preserveDrawingBuffer: true });
    this.renderer.outputColorSpace = THREE.LinearSRGBColorSpace;
    this.renderer.autoClear = false;
    this.renderer.setClearColor(0x0c1a20, 1);
    this.tree = readTree(index);
    this.store = new NodeStore(index, this.tree, () => this.wake());
    this.marker = new PointMarker(this);
    this.still = this.target(1, 1);
    this.moving = this.target(1, 1);
    this.scene.add(this.points, this.extras);
    this.material.uniforms.zOrigin.value = index.origin[2];
    this.frameAll();
  }

  private target(w: number, h: number): THREE.WebGLRenderTarget {
    const t = new THREE.WebGLRenderTarget(w, h, { minFilter: THREE.LinearFilter, magFilter: THREE.LinearFilter });
    t.depthTexture = new THREE.DepthTexture(w, h, THREE.UnsignedIntType);
    return t;
  }

  resize(width: number, height: number): void {
    const ratio = Math.min(2, window.devicePixelRatio);
    this.renderer.setPixelRatio(ratio);
    this.renderer.setSize(width, height, false);
    const w = Math.max(1, Math.round(width * ratio));
    const h = Math.max(1, Math.round(height * ratio));
    this.still.setSize(w, h);
    this.moving.setSize(Math.max(1, w >> 1), Math.max(1, h >> 1));
    this.setAspect(width / Math.max(1, height));
    this.restart();
  }

  protected override get heightPx(): number {
    return this.still.height;
  }

  protected override stretched(factor: number): void {
    this.points.scale.z = this.extras.scale.z = factor;
    this.material.uniforms.zScale.value = factor;
  }

  /** The view has moved: what follows is drawn coarse until it is still. */
  override moved(): void {
    this.lastMoved = performance.now();
    this.mode = 'moving';
    this.wake();
  }

  /** Draws anew at full detail: something but the view has changed. */
  override restart(): void {
    if (this.mode !== 'moving') this.mode = 'refining';
    this.beginRefining = true;
    this.wake();
  }
  private tooSlow = false;
  private beginRefining = true;

  wake(): void {
    this.frame ||= requestAnimationFrame(() => {
      this.frame = 0;
      this.tick();
    });
  }

  private prepareView(): (node: CloudNode) => number {
    const { camera } = this;
    if (camera instanceof THREE.PerspectiveCamera) {
      const distance = camera.position.distanceTo(this.controls.target);
      camera.near = Math.max(0.05, distance / 200);
      camera.far = Math.max(distance * 8, distance + 4 * this.index.rootM);
      camera.updateProjectionMatrix();
    }
    camera.updateMatrixWorld();
    this.frustum.setFromProjectionMatrix(
      new THREE.Matrix4().multiplyMatrices(camera.projectionMatrix, camera.matrixWorldInverse),
    );
    const pxPerM = this.pixelsPerMetreAtUnit();
    const eye = camera.position;
    return (node) => {
      const [x, y, z] = node.corner;
      const e = node.edgeM;
      this.box.min.set(x, y, z * this.zScale);
      this.box.max.set(x + e, y + e, (z + e) * this.zScale);
      if (!this.frustum.intersectsBox(this.box)) return 0;
      if (camera instanceof THREE.OrthographicCamera) return pxPerM;
      return pxPerM / Math.max(0.3, this.box.distanceToPoint(eye));
    };
  }

  private tick(): void {
    const now = performance.now();
    const still = now - this.lastMoved > STILL_AFTER_MS;
    if (!still) this.drawMoving();
    else {
      if (this.mode === 'moving') {
        this.mode = 'refining';
        this.beginRefining = true;
      }
      this.refine();
    }
    this.onFrame?.();
  }

  private drawMoving(): void {
    const started = performance.now();
    const { nodes } = chooseNodes(this.tree, this.prepareView(), this.budget, 2 * FINEST_PX);
    const there = nodes.filter((id) => this.meshOf(id));
    this.show(there);
    this.material.uniforms.pxPerM.value = this.pixelsPerMetreAtUnit() / 2;
    this.renderer.setRenderTarget(this.moving);
    this.renderer.clear();
    this.extras.visible = !this.tooSlow;
    for (const o of this.extras.children) if (o.userData.heavy) o.visible = false;
    this.renderer.render(this.scene, this.camera);
    for (const o of this.extras.children) if (o.userData.heavy) o.visible = o.userData.shown !== false;
    this.shade.draw(this.renderer, this.moving, this.viewOf(), false);
    this.wait();
    const ms = performance.now() - started;
    this.report.movingMs.push(ms);
    if (this.report.movingMs.length > 400) this.report.movingMs.shift();
    this.report.finished = false;
    // lines and meshes give way when even few points leave no time for them
    if (ms > 95 && this.budget <= 2 * MIN_POINTS_MOVING) this.tooSlow = true;
    this.budget = Math.max(
      MIN_POINTS_MOVING,
      Math.min(2_000_000, this.budget * Math.min(1.2, Math.max(0.4, FRAME_GOAL_MS / ms))),
    );
    this.store.want(nodes, (id) => this.meshes.has(id));
    setTimeout(() => this.wake(), STILL_AFTER_MS + 10);
  }

  private refine(): void {
    const pixelsPerMetre = this.prepareView();
    if (this.beginRefining) {
      this.beginRefining = false;
      this.drawn.clear();
      this.report.points = 0;
      this.report.finished = false;
      this.chosen = chooseNodes(this.tree, pixelsPerMetre, MAX_POINTS_STILL, FINEST_PX).nodes;
      this.measureSpacing();
      this.renderer.setRenderTarget(this.still);
      this.renderer.clear();
      this.show([]);
      this.extras.visible = true;
      this.renderer.render(this.scene, this.camera);
      this.mode = 'refining';
    }
    if (this.mode === 'done') return;
    const batch: number[] = [];
    let points = 0;
    const missing: number[] = [];
    for (const id of this.chosen) {
      if (this.drawn.has(id)) continue;
      if (points < this.slice && this.meshOf(id)) {
        batch.push(id);
        points += this.tree[id].count;
      } else if (!this.meshes.has(id)) missing.push(id);
    }
    if (batch.length) {
      const started = performance.now();
      this.show(batch);
      this.extras.visible = false;
      this.material.uniforms.pxPerM.value = this.pixelsPerMetreAtUnit();
      this.renderer.setRenderTarget(this.still);
      this.renderer.render(this.scene, this.camera);
      this.extras.visible = true;
      for (const id of batch) this.drawn.add(id);
      this.report.points += points;
      const finished = this.drawn.size >= this.chosen.length;
      if (!finished) this.shade.draw(this.renderer, this.still, this.viewOf(), false);
      this.wait();
      const ms = performance.now() - started;
      this.slice = Math.max(4_000, Math.min(3_000_000, this.slice * Math.min(1.5, Math.max(0.4, SLICE_GOAL_MS / ms))));
    } else this.shade.draw(this.renderer, this.still, this.viewOf(), false);
    for (const id of this.store.want(missing.slice(0, 64), (i) => this.drawn.has(i) || this.chosen.includes(i)))
      this.drop(id);
    if (this.drawn.size >= this.chosen.length) {
      this.shade.draw(this.renderer, this.still, this.viewOf(), this.shading);
      this.mode = 'done';
      this.report.finished = true;
    } else if (batch.length) this.wake();
  }

  private viewOf() {
    return {
      near: this.camera.near,
      far: this.camera.far,
      parallel: this.camera instanceof THREE.OrthographicCamera,
    };
  }

  /** Waits until the picture is really drawn, so that the time measured is the time taken. */
  private wait(): void {
    const gl = this.renderer.getContext();
    gl.readPixels(0, 0, 1, 1, gl.RGBA, gl.UNSIGNED_BYTE, this.probe);
  }

  private show(ids: number[]): void {
    this.points.clear();
    for (const id of ids) this.points.add(this.meshes.get(id)!);
  }

  private effective = new Float32Array(0);

  /** Spacing with the finer nodes that are drawn in the same place: what point sizes go by. */
  private measureSpacing(): void {
    if (this.effective.length !== this.tree.length) this.effective = Float32Array.from(this.tree, (n) => n.spacingM);
    const chosen = new Set(this.chosen);
    for (let id = this.tree.length - 1; id >= 0; id--) {
      const node = this.tree[id];
      let finest = node.spacingM;
      if (chosen.has(id))
        for (const c of node.children)
          if (chosen.has(c)) finest = Math.min(finest, Math.max(this.effective[c], node.spacingM / 8));
      this.effective[id] = finest;
    }
  }

  /** Codes of a node have changed: the next picture shows them. */
  refreshCodes(id: number): void {
    const codes = this.meshes.get(id)?.geometry.getAttribute('codes');
    if (codes) codes.needsUpdate = true;
  }

  /** From metres about the cloud's origin to the picture, by columns. */
  toPicture(): number[] {
    this.camera.updateMatrixWorld();
    return new THREE.Matrix4()
      .multiplyMatrices(this.camera.projectionMatrix, this.camera.matrixWorldInverse)
      .scale(new THREE.Vector3(1, 1, this.zScale))
      .toArray();
  }

  /** Where north is in a picture of a size in pixels, degrees clockwise from up; undefined when it points at the eye. */
  northDeg(width: number, height: number): number | undefined {
    const at = this.controls.target.clone();
    const [a, b] = [at.clone().project(this.camera), at.add(new THREE.Vector3(0, 1, 0)).project(this.camera)];
    const [dx, dy] = [(b.x - a.x) * width, (b.y - a.y) * height];
    return Math.hypot(dx, dy) > 1e-6 ? (Math.atan2(dx, dy) * 180) / Math.PI : undefined;
  }

  private meshOf(id: number): THREE.Points | undefined {
    const known = this.meshes.get(id);
    if (known) return known;
    const data = this.store.get(id);
    if (!data) return undefined;
    const mesh = this.makeMesh(id, data);
    this.meshes.set(id, mesh);
    return mesh;
  }

  private makeMesh(id: number, data: NodePoints): THREE.Points {
    const g = new THREE.BufferGeometry();
    g.setAttribute('position', new THREE.BufferAttribute(data.position, 3));
    g.setAttribute('intensity', new THREE.BufferAttribute(data.intensity, 1));
    g.setAttribute('strip', new THREE.BufferAttribute(data.strip, 1));
    g.setAttribute('gpsTime', new THREE.BufferAttribute(data.time, 1));
    g.setAttribute('sdH', new THREE.BufferAttribute(data.sdH, 1));
    g.setAttribute('codes', new THREE.BufferAttribute(data.codes, 4));
    if (data.colour.length) g.setAttribute('rgb', new THREE.BufferAttribute(data.colour, 3, true));
    const mesh = new THREE.Points(g, this.material);
    mesh.position.set(...this.tree[id].corner);
    mesh.frustumCulled = false;
    mesh.onBeforeRender = () => {
      this.material.uniforms.spacingM.value = this.effective[id] || this.tree[id].spacingM;
      this.material.uniforms.parallel.value = this.camera instanceof THREE.OrthographicCamera;
      this.material.uniformsNeedUpdate = true;
    };
    return mesh;
  }

  private drop(id: number): void {
    this.meshes.get(id)?.geometry.dispose();
    this.meshes.delete(id);
  }

  /** Nodes that are on the screen, with their points. */
  *visible(): Generator<{ node: CloudNode; data: NodePoints }> {
    for (const id of this.chosen) {
      const data = this.store.get(id);
      if (data) yield { node: this.tree[id], data };
    }
  }

  /** The picture as it is on the screen, PNG. */
  picture(): Promise<Blob | null> {
    return new Promise((resolve) => this.canvas.toBlob(resolve, 'image/png'));
  }

  dispose(): void {
    cancelAnimationFrame(this.frame);
    this.store.stop();
    this.controls.dispose();
    for (const id of [...this.meshes.keys()]) this.drop(id);
    this.still.dispose();
    this.moving.dispose();
    this.shade.dispose();
    this.material.dispose();
    this.renderer.dispose();
  }
}
