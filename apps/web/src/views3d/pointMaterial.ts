import * as THREE from 'three';
import { ECHO_KINDS, type SelectionLine } from '@longheron/core/cloud';
import { type GroundUnder, type PointFilterSettings } from '../stores/cloudLook';
import { sample, STRIP_COLOURS, VIRIDIS } from '../ui/colour';
import { classColour, type Colouring } from './colouring';

const MODE: Record<Colouring, number> = {
  height: 0,
  intensity: 1,
  time: 2,
  precision: 3,
  class: 4,
  strip: 5,
  echo: 6,
  above: 7,
  true: 8,
};

const VERTEX = /* glsl */ `
in float intensity;
in float strip;
in float gpsTime;
in float sdH;
in vec4 codes;
in vec3 rgb;
uniform int mode;
uniform vec2 limits;
uniform float zOrigin;
uniform float pointPx;
uniform float spacingM;
uniform float pxPerM;
uniform bool parallel;
uniform sampler2D ramp;
uniform sampler2D classPalette;
uniform sampler2D stripPalette;
uniform sampler2D classShown;
uniform vec2 timeShown;
uniform int rejectedShown;
uniform bool clipOn;
uniform int selectedShown;
uniform vec4 clipLine;
uniform vec2 clipSize;
uniform float zScale;
uniform int echoShown;
uniform vec2 intensityShown;
uniform float sdMost;
uniform vec2 aboveShown;
uniform vec2 heightShown;
uniform bool groundThere;
uniform sampler2D ground;
uniform vec4 groundGrid;
uniform vec2 groundSize;
uniform sampler2D stripShown;
uniform bool stripsOn;
out vec3 vColour;

// height of the ground under a place, straight between the middles of cells; far below where there is none
float groundUnder(vec2 at) {
  vec2 uv = clamp((at - groundGrid.xy) / groundGrid.z - 0.5, vec2(0.0), groundSize - 1.0);
  ivec2 low = ivec2(floor(uv));
  ivec2 high = min(low + 1, ivec2(groundSize) - 1);
  vec2 f = uv - vec2(low);
  float a = texelFetch(ground, low, 0).r;
  float b = texelFetch(ground, ivec2(high.x, low.y), 0).r;
  float c = texelFetch(ground, ivec2(low.x, high.y), 0).r;
  float d = texelFetch(ground, high, 0).r;
  float value = mix(mix(a, b, f.x), mix(c, d, f.x), f.y);
  if (value > -1.0e8) return value;
  return texelFetch(ground, ivec2(round(uv)), 0).r;
}

void main() {
  vec4 world = modelMatrix * vec4(position, 1.0);
  vec4 seen = viewMatrix * world;
  gl_Position = projectionMatrix * seen;
  float shown = texture(classShown, vec2((codes.x + 0.5) / 256.0, 0.5)).r;
  bool rejected = mod(codes.w, 2.0) > 0.5;
  bool chosen = codes.w > 1.5;
  bool kept = rejectedShown == 1 || rejected == (rejectedShown == 2);
  if (selectedShown > 0 && chosen != (selectedShown == 1)) kept = false;
  float z = world.z / zScale;
  int echo = codes.z < 1.5 ? 1 : codes.y < 1.5 ? 2 : codes.y > codes.z - 0.5 ? 8 : 4;
  if ((echo & echoShown) == 0) kept = false;
  if (intensity < intensityShown.x || intensity > intensityShown.y || sdH * 0.0001 > sdMost) kept = false;
  if (stripsOn && texelFetch(stripShown, ivec2(int(mod(strip, 256.0)), int(strip / 256.0)), 0).r < 0.5) kept = false;
  if (z + zOrigin < heightShown.x || z + zOrigin > heightShown.y) kept = false;
  float above = 0.0;
  if (groundThere) {
    above = z - groundUnder(world.xy);
    if (above < aboveShown.x || above > aboveShown.y) kept = false;
  }
  vec2 off = world.xy - clipLine.xy;
  float along = dot(off, clipLine.zw);
  float across = off.y * clipLine.z - off.x * clipLine.w;
  if (clipOn && (along < 0.0 || along > clipSize.x || abs(across) > clipSize.y)) kept = false;
  if (!kept || shown < 0.5 || gpsTime < timeShown.x || gpsTime > timeShown.y) {
    gl_Position = vec4(2.0, 2.0, 2.0, 1.0);
    gl_PointSize = 0.0;
    return;
  }
  float scale = parallel ? pxPerM : pxPerM / max(0.05, -seen.z);
  gl_PointSize = pointPx > 0.0 ? pointPx : clamp(spacingM * scale * 1.25, 1.5, 7.0);
  if (mode == 4) vColour = texture(classPalette, vec2((codes.x + 0.5) / 256.0, 0.5)).rgb;
  else if (mode == 5) vColour = texture(stripPalette, vec2((mod(strip, 9.0) + 0.5) / 9.0, 0.5)).rgb;
  else if (mode == 8) vColour = rgb;
  else if (mode == 6) {
    float last = step(codes.z - 0.5, codes.y);
    vec3 single = vec3(0.62, 0.68, 0.70);
    vec3 first = vec3(0.36, 0.65, 0.86);
    vec3 inner = vec3(0.88, 0.63, 0.24);
    vec3 final = vec3(0.72, 0.50, 0.83);
    vColour = codes.z < 1.5 ? single : (last > 0.5 ? final : (codes.y < 1.5 ? first : inner));
  } else {
    float value = mode == 0 ? z + zOrigin : mode == 1 ? intensity : mode == 2 ? gpsTime : mode == 7 ? above : sdH * 0.0001;
    float u = clamp((value - limits.x) / max(1e-9, limits.y - limits.x), 0.0, 1.0);
    vColour = texture(ramp, vec2(u * 255.0 / 256.0 + 0.5 / 256.0, 0.5)).rgb;
  }
  if (rejected) vColour = mix(vColour, vec3(0.66, 0.25, 0.18), 0.65);
  if (chosen && selectedShown == 0) vColour = mix(vColour, vec3(1.0, 0.435, 0.69), 0.8);
}
`;

const FRAGMENT = /* glsl */ `
in vec3 vColour;
out vec4 colour;
void main() {
  vec2 c = gl_PointCoord - 0.5;
  if (dot(c, c) > 0.25) discard;
  colour = vec4(vColour, 1.0);
}
`;

function strip1d(colours: Array<[number, number, number]>): THREE.DataTexture {
  const data = new Uint8Array(4 * colours.length);
  colours.forEach((c, i) => data.set([...c, 255], 4 * i));
  const t = new THREE.DataTexture(data, colours.length, 1);
  t.minFilter = t.magFilter = THREE.NearestFilter;
  t.needsUpdate = true;
  return t;
}

const rgb = (hex: string): [number, number, number] =>
  [1, 3, 5].map((k) => parseInt(hex.slice(k, k + 2), 16)) as [number, number, number];

/** Grey for intensity, an even scale for the rest. */
export const GREYS = ['#10181b', '#ffffff'];
export const scaleColours = (colouring: Colouring): string[] => (colouring === 'intensity' ? GREYS : VIRIDIS);

function rampTexture(colours: string[]): THREE.DataTexture {
  return strip1d(Array.from({ length: 256 }, (_, i) => sample(colours, i / 255)));
}

/** What stands for no ground: no texture keeps what is not a number everywhere. */
const NO_GROUND_M = -1e30;

function groundTexture({ heightM, columns, rows }: GroundUnder): THREE.DataTexture {
  const data = heightM.map((h) => (Number.isNaN(h) ? NO_GROUND_M : h));
  const t = new THREE.DataTexture(data, columns, rows, THREE.RedFormat, THREE.FloatType);
  t.minFilter = t.magFilter = THREE.NearestFilter;
  t.needsUpdate = true;
  return t;
}

const ramps = new Map<string[], THREE.DataTexture>();

/** The material all points share; recolouring changes uniforms only. */
export class PointMaterial extends THREE.ShaderMaterial {
  readonly shown = new Uint8Array(4 * 256).fill(255);
  private readonly shownTexture = new THREE.DataTexture(this.shown, 256, 1);

  private readonly strips = new Uint8Array(4 * 65536);
  private readonly stripTexture = new THREE.DataTexture(this.strips, 256, 256);
  private ground: GroundUnder | undefined;
  private palette = '';

  constructor() {
    super({
      glslVersion: THREE.GLSL3,
      vertexShader: VERTEX,
      fragmentShader: FRAGMENT,
      uniforms: {
        mode: { value: 0 },
        limits: { value: new THREE.Vector2(0, 1) },
        zOrigin: { value: 0 },
        pointPx: { value: 0 },
        spacingM: { value: 1 },
        pxPerM: { value: 1 },
        parallel: { value: false },
        ramp: { value: null },
        classPalette: { value: null },
        stripPalette: { value: strip1d(STRIP_COLOURS.map(rgb)) },
        classShown: { value: null },
        rejectedShown: { value: 0 },
        clipOn: { value: false },
        selectedShown: { value: 0 },
        clipLine: { value: new THREE.Vector4(0, 0, 1, 0) },
        clipSize: { value: new THREE.Vector2(1, 1) },
        timeShown: { value: new THREE.Vector2(-1e30, 1e30) },
        zScale: { value: 1 },
        echoShown: { value: 15 },
        intensityShown: { value: new THREE.Vector2(-1, 65536) },
        sdMost: { value: 1e30 },
        aboveShown: { value: new THREE.Vector2(-1e38, 1e38) },
        heightShown: { value: new THREE.Vector2(-1e30, 1e30) },
        groundThere: { value: false },
        ground: { value: null },
        groundGrid: { value: new THREE.Vector4(0, 0, 1, 0) },
        groundSize: { value: new THREE.Vector2(1, 1) },
        stripShown: { value: null },
        stripsOn: { value: false },
      },
    });
    this.shownTexture.minFilter = this.shownTexture.magFilter = THREE.NearestFilter;
    this.shownTexture.needsUpdate = true;
    this.uniforms.classShown.value = this.shownTexture;
    this.stripTexture.minFilter = this.stripTexture.magFilter = THREE.NearestFilter;
    this.uniforms.stripShown.value = this.stripTexture;
    this.paintClasses();
  }

  colourBy(colouring: Colouring, low: number, high: number): void {
    const colours = scaleColours(colouring);
    if (!ramps.has(colours)) ramps.set(colours, rampTexture(colours));
    this.uniforms.mode.value = MODE[colouring];
    this.uniforms.ramp.value = ramps.get(colours);
    // precision is stored in tenths of a millimetre and shown in metres
    (this.uniforms.limits.value as THREE.Vector2).set(low, high);
  }

  /** Colours of classes as they are now. */
  paintClasses(): void {
    const key = Array.from({ length: 256 }, (_, i) => classColour(i)).join('');
    if (key === this.palette) return;
    this.palette = key;
    (this.uniforms.classPalette.value as THREE.DataTexture | null)?.dispose();
    this.uniforms.classPalette.value = strip1d(Array.from({ length: 256 }, (_, i) => rgb(classColour(i))));
  }

  showClasses(hidden: ReadonlySet<number>): void {
    for (let c = 0; c < 256; c++) this.shown[4 * c] = hidden.has(c) ? 0 : 255;
    this.shownTexture.needsUpdate = true;
  }

  showRejected(which: 'hidden' | 'shown' | 'only'): void {
    this.uniforms.rejectedShown.value = { hidden: 0, shown: 1, only: 2 }[which];
  }

  /** Shows only what passes a filter. @param ground under the cloud, once it is known. */
  filterBy(f: PointFilterSettings, ground: GroundUnder | undefined): void {
    const u = this.uniforms;
    u.echoShown.value = f.echoes ? f.echoes.reduce((bits, e) => bits | (1 << ECHO_KINDS.indexOf(e)), 0) : 15;
    u.intensityShown.value.set(...(f.intensity ?? [-1, 65536]));
    u.sdMost.value = f.sdMostM ?? 1e30;
    u.aboveShown.value.set(...(f.aboveM ?? [-1e38, 1e38]));
    u.heightShown.value.set(...(f.heightM ?? [-1e30, 1e30]));
    u.stripsOn.value = !!f.strips;
    if (f.strips) {
      this.strips.fill(0);
      for (const s of f.strips) this.strips[4 * s] = 255;
      this.stripTexture.needsUpdate = true;
    }
    u.groundThere.value = !!ground;
    if (!ground || ground === this.ground) return;
    this.ground = ground;
    (u.ground.value as THREE.DataTexture | null)?.dispose();
    u.ground.value = groundTexture(ground);
    u.groundGrid.value.set(ground.minX, ground.minY, ground.cellM, 0);
    u.groundSize.value.set(ground.columns, ground.rows);
  }

  /** Shows only what lies in the section of a line; everything without one. @param origin of the cloud. */
  clipTo(line: SelectionLine | null, origin: readonly number[]): void {
    this.uniforms.clipOn.value = line !== null;
    if (!line) return;
    const [dx, dy] = [line.to[0] - line.from[0], line.to[1] - line.from[1]];
    const length = Math.hypot(dx, dy) || 1e-9;
    this.uniforms.clipLine.value.set(line.from[0] - origin[0], line.from[1] - origin[1], dx / length, dy / length);
    this.uniforms.clipSize.value.set(length, line.widthM / 2);
  }

  /** Whether a place is cut off; metres about the cloud's origin. */
  cutOff(x: number, y: number): boolean {
    const { clipOn, clipLine, clipSize } = this.uniforms;
    if (!clipOn.value) return false;
    const l = clipLine.value as THREE.Vector4;
    const along = (x - l.x) * l.z + (y - l.y) * l.w;
    return along < 0 || along > clipSize.value.x || Math.abs((y - l.y) * l.z - (x - l.x) * l.w) > clipSize.value.y;
  }
}
