/** Ink lines of a drawing in space: every part is drawn flat with its number and depth, and a line is drawn where numbers or depths meet.
 *
 * What belongs together (a sleeve, trousers, a hand) carries one number and has no seams inside; smooth edges are worked out in the
 * shader, so that they need no graphics card. */
import {
  FrontSide,
  GLSL3,
  Mesh,
  NearestFilter,
  NoBlending,
  OrthographicCamera,
  PlaneGeometry,
  RawShaderMaterial,
  Scene,
  Vector2,
  Vector3,
  Vector4,
  Color,
  WebGLRenderTarget,
  type Camera,
  type Object3D,
  type WebGLRenderer,
} from "three";

/** Parts in depth that differ by more than this on either side of a line are apart, m. */
const APART_M = 0.05;
/** How far a solid and its line reach from the nearest joint, m. */
const AROUND_M = 0.2;
/** Half the width of a line, px of the screen. */
const HALF_PX = 1.35;

const VERTEX = /* glsl */ `
precision highp float;
in vec3 position;
uniform mat4 modelViewMatrix, projectionMatrix;
void main() { gl_Position = projectionMatrix * modelViewMatrix * vec4(position, 1.0); }`;

const NUMBERED = /* glsl */ `
precision highp float;
uniform float part;
uniform float faint;
out vec4 seen;
void main() {
  float far = gl_FragCoord.z * 255.0;
  seen = vec4(part / 255.0, faint, floor(far) / 255.0, fract(far));
}`;

const SPREAD = /* glsl */ `
precision highp float;
in vec3 position;
uniform vec4 within;
out vec2 at;
void main() {
  vec2 place = mix(within.xy, within.zw, 0.5 * position.xy + 0.5);
  at = 0.5 * place + 0.5;
  gl_Position = vec4(place, 0.0, 1.0);
}`;

const LINES = /* glsl */ `
precision highp float;
uniform sampler2D parts;
uniform vec2 step;
uniform vec3 paper, ink, faintInk;
uniform float apart;
in vec2 at;
out vec4 drawn;
uniform int reach;
float far(vec4 s) { return s.b + s.a / 255.0; }
bool unlike(vec4 a, vec4 b) { return a.r != b.r || abs(far(a) - far(b)) > apart; }
void main() {
  ivec2 pixel = ivec2(gl_FragCoord.xy);
  vec4 here = texelFetch(parts, pixel, 0);
  // no line can run here without passing one of these four
  bool near = unlike(here, texelFetch(parts, pixel + ivec2(reach, 0), 0)) || unlike(here, texelFetch(parts, pixel - ivec2(reach, 0), 0)) ||
    unlike(here, texelFetch(parts, pixel + ivec2(0, reach), 0)) || unlike(here, texelFetch(parts, pixel - ivec2(0, reach), 0));
  if (!near && here.r == 0.0) discard;
  vec4 nearest = here;
  float other = 0.0;
  if (near) for (int k = 0; k < 12; k++) {
    float turn = 0.5235988 * float(k);
    vec4 s = texture(parts, at + step * vec2(cos(turn), sin(turn)));
    if (unlike(here, s)) {
      other += 1.0;
      if (s.r > 0.0 && (nearest.r == 0.0 || far(s) < far(nearest))) nearest = s;
    }
  }
  float line = smoothstep(0.5, 4.0, other);
  bool body = here.r > 0.0;
  if (!body && line == 0.0) discard;
  vec3 colour = nearest.g > 0.5 ? faintInk : ink;
  drawn = body ? vec4(mix(paper, colour, line), 1.0) : vec4(colour, line);
  gl_FragDepth = body ? far(here) : far(nearest);
}`;

const COPY = /* glsl */ `
precision mediump float;
uniform sampler2D picture;
in vec2 at;
out vec4 drawn;
void main() { drawn = texture(picture, at); }`;

export interface Inks {
  paper: string;
  ink: string;
  faint: string;
}

/** The material of a part; parts are numbered from 1. */
export function partMaterial(part: number, faint: boolean): RawShaderMaterial {
  return new RawShaderMaterial({
    glslVersion: GLSL3,
    vertexShader: VERTEX,
    fragmentShader: NUMBERED,
    side: FrontSide,
    uniforms: { part: { value: part }, faint: { value: faint ? 1 : 0 } },
  });
}

/** Draws numbered parts as paper with ink lines around them. */
export class InkLines {
  private readonly parts = new WebGLRenderTarget(1, 1, { minFilter: NearestFilter, magFilter: NearestFilter });
  private readonly sheet = new Scene();
  private readonly flat = new OrthographicCamera(-1, 1, 1, -1, 0, 1);
  private readonly lines = new RawShaderMaterial({
    glslVersion: GLSL3,
    vertexShader: SPREAD,
    fragmentShader: LINES,
    transparent: true,
    uniforms: {
      parts: { value: this.parts.texture },
      step: { value: new Vector2() },
      paper: { value: new Color() },
      ink: { value: new Color() },
      faintInk: { value: new Color() },
      apart: { value: 0.01 },
      reach: { value: 2 },
      within: { value: new Vector4(-1, -1, 1, 1) },
    },
  });
  private readonly plane = new PlaneGeometry(2, 2);

  constructor() {
    const mesh = new Mesh(this.plane, this.lines);
    mesh.frustumCulled = false;
    this.sheet.add(mesh);
  }

  /** `ratio`: pixels of the picture to one of the screen. */
  resize(width: number, height: number, ratio: number): void {
    this.parts.setSize(width, height);
    this.lines.uniforms["reach"]!.value = Math.ceil(1.42 * HALF_PX * ratio);
    (this.lines.uniforms["step"]!.value as Vector2).set((HALF_PX * ratio) / width, (HALF_PX * ratio) / height);
  }

  colour({ paper, ink, faint }: Inks): void {
    for (const [name, value] of Object.entries({ paper, ink, faintInk: faint })) (this.lines.uniforms[name]!.value as Color).copy(asShown(value));
  }

  /** Lines are only looked for where the body is. */
  private reach(places: readonly Vector3[], camera: Camera): void {
    const within = (this.lines.uniforms["within"]!.value as Vector4).set(1, 1, -1, -1);
    const margin = new Vector3(AROUND_M, AROUND_M, 0).applyMatrix4(camera.projectionMatrix).sub(new Vector3().applyMatrix4(camera.projectionMatrix));
    for (const place of places) {
      const { x, y } = place.clone().project(camera);
      within.set(Math.min(within.x, x - margin.x), Math.min(within.y, y - margin.y), Math.max(within.z, x + margin.x), Math.max(within.w, y + margin.y));
    }
    within.set(Math.max(-1, within.x), Math.max(-1, within.y), Math.min(1, within.z), Math.min(1, within.w));
  }

  /** Draws `body`, whose joints are at `places`, onto `target` (null: the screen), over what is there; the colour for clearing is the caller's to set again. */
  draw(
    renderer: WebGLRenderer,
    body: Object3D,
    places: readonly Vector3[],
    camera: Camera & { near: number; far: number },
    target: WebGLRenderTarget | null,
  ): void {
    renderer.setRenderTarget(this.parts);
    renderer.setClearColor(0x000000, 0);
    renderer.clear();
    renderer.render(body, camera);
    renderer.setRenderTarget(target);
    this.reach(places, camera);
    this.lines.uniforms["apart"]!.value = APART_M / (camera.far - camera.near);
    renderer.render(this.sheet, this.flat);
  }

  dispose(): void {
    this.parts.dispose();
    this.lines.dispose();
    this.plane.dispose();
  }
}

/** A colour for what writes the screen's own values, not light. */
export const asShown = (colour: string): Color => new Color(colour).convertLinearToSRGB();

/** A picture that is copied to the screen as it is, behind everything: one look at each pixel and no arithmetic. */
export class Backdrop {
  readonly target = new WebGLRenderTarget(1, 1, { minFilter: NearestFilter, magFilter: NearestFilter });
  private readonly sheet = new Scene();
  private readonly flat = new OrthographicCamera(-1, 1, 1, -1, 0, 1);
  private readonly copy = new RawShaderMaterial({
    glslVersion: GLSL3,
    vertexShader: SPREAD,
    fragmentShader: COPY,
    blending: NoBlending,
    depthTest: false,
    depthWrite: false,
    uniforms: { picture: { value: this.target.texture }, within: { value: new Vector4(-1, -1, 1, 1) } },
  });
  private readonly plane = new PlaneGeometry(2, 2);

  constructor() {
    const mesh = new Mesh(this.plane, this.copy);
    mesh.frustumCulled = false;
    this.sheet.add(mesh);
  }

  show(renderer: WebGLRenderer): void {
    renderer.render(this.sheet, this.flat);
  }

  dispose(): void {
    this.target.dispose();
    this.copy.dispose();
    this.plane.dispose();
  }
}
