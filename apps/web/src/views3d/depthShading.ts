import * as THREE from 'three';

const QUAD = /* glsl */ `
out vec2 at;
void main() { at = uv; gl_Position = vec4(position.xy, 0.0, 1.0); }
`;

/** Darkens a pixel by how far it lies behind its neighbours (eye-dome lighting, Boucheny 2009). */
const SHADE = /* glsl */ `
in vec2 at;
out vec4 result;
uniform sampler2D picture;
uniform sampler2D depth;
uniform vec2 pixel;
uniform vec2 nearFar;
uniform bool parallel;
uniform bool shade;
float distanceAt(vec2 p) {
  float d = texture(depth, p).r;
  if (d >= 1.0) return -1.0;
  float n = nearFar.x, f = nearFar.y;
  return parallel ? n + d * (f - n) : n * f / (f - d * (f - n));
}
void main() {
  vec4 c = texture(picture, at);
  if (!shade) { result = c; return; }
  float own = distanceAt(at);
  if (own < 0.0) { result = c; return; }
  float here = log2(own);
  float sum = 0.0;
  for (int i = 0; i < 8; i++) {
    float a = float(i) * 0.785398;
    float there = distanceAt(at + 1.4 * pixel * vec2(cos(a), sin(a)));
    sum += there < 0.0 ? 0.02 : max(0.0, here - log2(there));
  }
  result = vec4(c.rgb * exp(-sum * 90.0 / 8.0), 1.0);
}
`;

/** Carries the kept picture to the screen, with or without depth shading. */
export class DepthShading {
  private readonly scene = new THREE.Scene();
  private readonly camera = new THREE.OrthographicCamera(-1, 1, 1, -1, 0, 1);
  private readonly material = new THREE.ShaderMaterial({
    glslVersion: THREE.GLSL3,
    vertexShader: QUAD,
    fragmentShader: SHADE,
    depthTest: false,
    depthWrite: false,
    uniforms: {
      picture: { value: null },
      depth: { value: null },
      pixel: { value: new THREE.Vector2() },
      nearFar: { value: new THREE.Vector2() },
      parallel: { value: false },
      shade: { value: true },
    },
  });

  constructor() {
    const quad = new THREE.Mesh(new THREE.PlaneGeometry(2, 2), this.material);
    quad.frustumCulled = false;
    this.scene.add(quad);
  }

  draw(
    renderer: THREE.WebGLRenderer,
    target: THREE.WebGLRenderTarget,
    view: { near: number; far: number; parallel: boolean },
    shade: boolean,
  ): void {
    const u = this.material.uniforms;
    u.picture.value = target.texture;
    u.depth.value = target.depthTexture;
    u.pixel.value.set(1 / target.width, 1 / target.height);
    u.nearFar.value.set(view.near, view.far);
    u.parallel.value = view.parallel;
    u.shade.value = shade;
    renderer.setRenderTarget(null);
    renderer.render(this.scene, this.camera);
  }

  dispose(): void {
    this.material.dispose();
  }
}
