/** The scene around the figure: ground, eyes, overlays; no React. */
import {
  BufferAttribute,
  BufferGeometry,
  CatmullRomCurve3,
  CylinderGeometry,
  DoubleSide,
  Group,
  Line,
  LineBasicMaterial,
  LineSegments,
  Mesh,
  MeshBasicMaterial,
  MOUSE,
  OrthographicCamera,
  Quaternion,
  Scene,
  TOUCH,
  TubeGeometry,
  Vector3,
  WebGLRenderer,
} from "three";
import { OrbitControls } from "three/examples/jsm/controls/OrbitControls.js";

import { EYES, pointAt, type Eye, type FigureInfo, type Overlay, type Point } from "@/lib/figure";
import { valueAt, type Traces } from "@/lib/traces";

import { asShown, Backdrop, InkLines } from "./ink";
import { Mannequin } from "./mannequin";

const CENTRE = new Vector3(0.12, 0, 1.07);
const RADIUS = 6;
const VIEW_M: Record<Eye, number> = { front: 2.36, target: 2.36, above: 1.9, behind: 2.36 };
const Y = new Vector3(0, 1, 0);
const SECTOR = 40;

export interface Shown {
  block: Traces;
  traces: Traces;
  info: FigureInfo;
  mirror: boolean;
  addressS: number;
  startS: number;
  endS: number;
  /** Another figure drawn faint beneath, at its own time for an instant of this one's; in the place of the address. */
  under?: { block: Traces; at: (t: number) => number } | null;
}

interface Sector {
  mesh: Mesh<BufferGeometry, MeshBasicMaterial>;
  edge: Mesh;
  metric: string;
  from: string;
  radius: number;
}

/** Whether pictures are drawn by a graphics card; a processor alone has no time for more pixels than the screen has. */
function hasGraphicsCard(): boolean {
  const gl = document.createElement("canvas").getContext("webgl2");
  const info = gl?.getExtension("WEBGL_debug_renderer_info");
  const name = gl && info ? String(gl.getParameter(info.UNMASKED_RENDERER_WEBGL)) : "";
  gl?.getExtension("WEBGL_lose_context")?.loseContext();
  return !/swiftshader|llvmpipe|software|basic render/i.test(name);
}

/** Pixels drawn for one of the screen where there is no graphics card, and how long nothing may have moved for the finer. */
const [MOVING_RATIO, STILL_RATIO, SETTLES_MS] = [1, 2, 250];
const HOLDS = ["pointerdown", "pointerup", "pointercancel"] as const;

const colourOf = (name: string) => getComputedStyle(document.documentElement).getPropertyValue(name).trim();

/** Everything that is drawn; `draw` moves it to an instant. */
export class FigureScene {
  private readonly renderer: WebGLRenderer;
  private readonly scene = new Scene();
  private readonly behind = new Scene();
  private readonly camera = new OrthographicCamera(-1, 1, 1, -1, 0.1, 20);
  private readonly controls: OrbitControls;
  private readonly overlays: Record<Overlay, Group>;
  private readonly body: Mannequin;
  private readonly ghost: Mannequin;
  private readonly lines = new InkLines();
  private readonly sectors: Sector[] = [];
  private readonly rods: { mesh: Mesh; ends: (t: number) => [Vector3 | null, Vector3 | null] }[] = [];
  private readonly paths: { mesh: Mesh<TubeGeometry>; startS: number; endS: number }[] = [];
  private readonly inked: { material: MeshBasicMaterial | LineBasicMaterial; token: string }[] = [];
  private readonly backdrop = new Backdrop();
  private readonly grid = new LineBasicMaterial();
  private paper = asShown("#fff");
  private stale = true;
  private eye: Eye = "front";
  private size = { width: 1, height: 1 };
  private now = 0;
  private queued = 0;
  private settling = 0;
  private held = false;
  private readonly hardware: boolean;
  onFree: () => void = () => undefined;

  constructor(
    canvas: HTMLCanvasElement,
    private readonly shown: Shown,
  ) {
    this.hardware = hasGraphicsCard();
    for (const name of HOLDS) window.addEventListener(name, this.hold, true);
    this.renderer = new WebGLRenderer({ canvas, antialias: this.hardware, alpha: false });
    this.renderer.setPixelRatio(this.hardware ? Math.min(window.devicePixelRatio, 2) : MOVING_RATIO);
    this.camera.up.set(0, 0, 1);
    this.controls = new OrbitControls(this.camera, canvas);
    this.controls.enablePan = false;
    this.controls.mouseButtons = { LEFT: MOUSE.ROTATE, MIDDLE: MOUSE.DOLLY, RIGHT: MOUSE.ROTATE };
    this.controls.touches = { ONE: TOUCH.ROTATE, TWO: TOUCH.DOLLY_ROTATE };
    this.controls.target.copy(CENTRE);
    this.controls.addEventListener("start", () => this.onFree());
    this.controls.addEventListener("change", () => this.changed());
    this.body = new Mannequin(shown.info.measured, false);
    this.ghost = new Mannequin([], true);
    this.overlays = { address: new Group(), turn: new Group(), spine: new Group(), pelvis: new Group(), hip: new Group(), club: new Group() };
    this.overlays.address.add(this.ghost.group);
    this.scene.add(...Object.values(this.overlays).filter((o) => o !== this.overlays.address));
    this.renderer.autoClear = false;
    this.ground();
    this.build();
    this.recolour();
    this.look("front");
  }

  /** The colours of the present theme. */
  recolour(): void {
    this.paper = asShown(colourOf("--paper"));
    this.lines.colour({ paper: colourOf("--paper"), ink: colourOf("--ink"), faint: colourOf("--hairline") });
    this.grid.color.copy(asShown(colourOf("--hairline")));
    for (const { material, token } of this.inked) material.color.set(colourOf(token));
    this.changed();
  }

  resize(width: number, height: number): void {
    this.size = { width: Math.max(1, width), height: Math.max(1, height) };
    this.fit();
    this.frame();
  }

  /** Every picture in the size of the screen, at the present ratio. */
  private fit(): void {
    this.renderer.setSize(this.size.width, this.size.height, false);
    const ratio = this.renderer.getPixelRatio();
    const [wide, high] = [Math.round(ratio * this.size.width), Math.round(ratio * this.size.height)];
    this.backdrop.target.setSize(wide, high);
    this.lines.resize(wide, high, ratio);
    this.stale = true;
  }

  /** Without a graphics card there is time for smooth lines only while nothing moves: then four pixels are drawn for one. */
  private settle(ratio: number): void {
    if (this.hardware || this.renderer.getPixelRatio() === ratio) return;
    this.renderer.setPixelRatio(ratio);
    this.fit();
  }

  /** Stand where one of the fixed eyes stands. */
  look(eye: Eye): void {
    this.eye = eye;
    const { from } = EYES[eye];
    const side = this.shown.mirror ? -1 : 1;
    this.camera.position.set(CENTRE.x + RADIUS * from[0], RADIUS * from[1] * side, CENTRE.z + RADIUS * from[2]);
    this.camera.zoom = 1;
    this.controls.update();
    this.frame();
  }

  show(overlay: Overlay, on: boolean): void {
    this.overlays[overlay].visible = on;
    this.changed();
  }

  /** Move to an instant; drawn with the next frame of the screen. */
  at(t: number): void {
    this.now = t;
    if (this.shown.under) this.stale = true;
    this.queue();
  }

  dispose(): void {
    cancelAnimationFrame(this.queued);
    clearTimeout(this.settling);
    for (const name of HOLDS) window.removeEventListener(name, this.hold, true);
    this.controls.dispose();
    this.body.dispose();
    this.ghost.dispose();
    this.backdrop.dispose();
    this.lines.dispose();
    for (const scene of [this.scene, this.behind])
      scene.traverse((o) => {
        if (o instanceof Mesh || o instanceof Line) (o.geometry as BufferGeometry).dispose();
      });
    this.renderer.dispose();
  }

  private changed(): void {
    this.stale = true;
    this.queue();
  }

  private queue(): void {
    if (this.queued) return;
    this.queued = requestAnimationFrame(() => {
      this.queued = 0;
      this.settle(MOVING_RATIO);
      this.draw();
      this.settleSoon();
    });
  }

  /** Draw smoothly once nothing has moved for a while and no finger holds anything: who drags is never made to wait. */
  private settleSoon(): void {
    clearTimeout(this.settling);
    if (this.hardware) return;
    this.settling = window.setTimeout(() => {
      if (this.held) return this.settleSoon();
      this.settle(STILL_RATIO);
      this.draw();
    }, SETTLES_MS);
  }

  private readonly hold = (event: PointerEvent): void => {
    this.held = event.type === "pointerdown";
  };

  private draw(): void {
    const { block, mirror } = this.shown;
    this.body.pose(block, this.now, mirror);
    for (const rod of this.rods) if (rod.mesh.parent?.visible) place(rod.mesh, ...rod.ends(this.now));
    if (this.overlays.turn.visible) for (const s of this.sectors) this.sector(s);
    for (const p of this.paths) {
      const share = Math.min(1, Math.max(0, (this.now - p.startS) / (p.endS - p.startS)));
      const count = p.mesh.geometry.index?.count ?? 0;
      p.mesh.geometry.setDrawRange(0, 3 * Math.floor((share * count) / 3));
    }
    this.drawBehind();
    this.backdrop.show(this.renderer);
    this.renderer.clearDepth(); // the present stands in front of the address, wherever it is
    this.lines.draw(this.renderer, this.body.group, this.body.places, this.camera, null);
    this.renderer.render(this.scene, this.camera);
  }

  /** The address stands still: it is drawn again only when the eye, the size or the colours change; another figure moves. */
  private drawBehind(): void {
    if (!this.stale) return;
    this.stale = false;
    const { block, addressS, mirror, under } = this.shown;
    if (under) this.ghost.pose(under.block, under.at(this.now), mirror);
    else this.ghost.pose(block, addressS, mirror);
    this.renderer.setRenderTarget(this.backdrop.target);
    this.renderer.setClearColor(this.paper, 1);
    this.renderer.clear();
    this.renderer.render(this.behind, this.camera);
    if (under || this.overlays.address.visible) this.lines.draw(this.renderer, this.ghost.group, this.ghost.places, this.camera, this.backdrop.target);
    this.renderer.setRenderTarget(null);
  }

  private frame(): void {
    const aspect = this.size.width / this.size.height;
    const high = VIEW_M[this.eye];
    const half = { x: (high * aspect) / 2, y: high / 2 };
    Object.assign(this.camera, { left: -half.x, right: half.x, top: half.y, bottom: -half.y });
    this.camera.updateProjectionMatrix();
    this.changed();
  }

  private ink(token: string): MeshBasicMaterial {
    const material = new MeshBasicMaterial({ side: DoubleSide });
    this.inked.push({ material, token });
    return material;
  }

  private ground(): void {
    const ends: number[] = [];
    for (let k = -3; k <= 3; k++) ends.push(-0.5, 0.25 * k, 0, 0.85, 0.25 * k, 0);
    for (let k = -2; k <= 3; k++) ends.push(0.25 * k, -0.85, 0, 0.25 * k, 0.85, 0);
    const grid = new LineSegments(new BufferGeometry().setAttribute("position", new BufferAttribute(new Float32Array(ends), 3)), this.grid);
    this.behind.add(grid);
    const dot = new Mesh(new CylinderGeometry(0.021, 0.021, 0.02, 20), this.ink("--ink"));
    dot.quaternion.setFromUnitVectors(Y, new Vector3(0, 0, 1));
    const head = this.point("club_head", this.shown.addressS);
    dot.position.set(head?.x ?? 0.6, (head?.y ?? 0) + (this.shown.mirror ? -0.03 : 0.03), 0.02);
    dot.visible = this.shown.info.measured.includes("club");
    this.scene.add(dot);
  }

  private point(name: string, t: number): Vector3 | null {
    const p = pointAt(this.shown.block, name, t, this.shown.mirror);
    return p ? new Vector3(...p) : null;
  }

  private build(): void {
    const { startS, endS, addressS, mirror, info } = this.shown;
    for (const [metric, part, from, radius, token] of [
      ["pelvis_turn", "pelvis", "pelvis", 0.3, "--sea"],
      ["thorax_turn", "upper_body", "neck", 0.46, "--ink"],
    ] as const) {
      if (!info.measured.includes(part)) continue;
      const geometry = new BufferGeometry().setAttribute("position", new BufferAttribute(new Float32Array(3 * (SECTOR + 2)), 3));
      const index: number[] = [];
      for (let k = 0; k < SECTOR; k++) index.push(0, k + 1, k + 2);
      geometry.setIndex(index);
      const material = this.ink(token === "--sea" ? "--band" : "--hairline");
      material.transparent = true;
      material.opacity = 0.75;
      const mesh = new Mesh(geometry, material);
      mesh.frustumCulled = false;
      const edge = rod(0.008, this.ink(token));
      this.overlays.turn.add(mesh, edge);
      this.sectors.push({ mesh, edge, metric, from, radius });
    }
    this.line("spine", 0.011, "--ink", (t) => [this.point("pelvis", t), this.point("neck", t)], true);
    const [p0, n0] = [this.point("pelvis", addressS), this.point("neck", addressS)];
    this.line("spine", 0.007, "--muted", () => [p0, n0], true);
    this.trail("pelvis", "pelvis", startS, endS, 0.009);
    this.trail("club", "club_head", startS, endS, 0.007);
    const edge = this.point("lead_foot_edge", addressS);
    if (edge) {
      const out = mirror ? -0.095 : 0.095;
      const hip = (t: number) => this.point("lead_hip", t);
      this.line(
        "hip",
        0.007,
        "--muted",
        (t) => {
          const h = hip(t);
          return h ? [new Vector3(h.x, edge.y, 0), new Vector3(h.x, edge.y, 1.25)] : [null, null];
        },
        true,
      );
      this.line(
        "hip",
        0.012,
        "--ink",
        (t) => {
          const h = hip(t);
          return h ? [h, new Vector3(h.x, h.y + out, h.z)] : [null, null];
        },
        true,
      );
    }
  }

  private line(overlay: Overlay, radius: number, token: string, ends: (t: number) => [Vector3 | null, Vector3 | null], over = false): void {
    const material = this.ink(token);
    if (over) material.depthTest = false;
    const mesh = rod(radius, material);
    mesh.renderOrder = over ? 5 : 0;
    this.overlays[overlay].add(mesh);
    this.rods.push({ mesh, ends });
  }

  private trail(overlay: Overlay, name: string, startS: number, endS: number, radius: number): void {
    const points: Vector3[] = [];
    for (let k = 0; k <= 160; k++) {
      const p = this.point(name, startS + ((endS - startS) * k) / 160);
      if (p) points.push(p);
    }
    if (points.length < 4) return;
    const material = this.ink("--sea");
    material.depthTest = overlay !== "pelvis";
    const mesh = new Mesh(new TubeGeometry(new CatmullRomCurve3(points), 320, radius, 6), material);
    mesh.renderOrder = 6;
    this.overlays[overlay].add(mesh);
    this.paths.push({ mesh, startS, endS });
  }

  /** The sector between square and the present turn, on the level of its segment. */
  private sector(s: Sector): void {
    const turn = valueAt(this.shown.traces, s.metric, this.now);
    const middle = this.point(s.from, this.now);
    s.mesh.visible = turn !== null && middle !== null;
    s.edge.visible = s.mesh.visible;
    if (turn === null || middle === null) return;
    const side = this.shown.mirror ? -1 : 1;
    const end = (-turn * Math.PI) / 180;
    const at = (a: number, r: number): Point => [middle.x - r * Math.sin(a), middle.y + side * r * Math.cos(a), middle.z];
    const places = s.mesh.geometry.getAttribute("position") as BufferAttribute;
    places.setXYZ(0, middle.x, middle.y, middle.z);
    for (let k = 0; k <= SECTOR; k++) places.setXYZ(k + 1, ...at((end * k) / SECTOR, s.radius));
    places.needsUpdate = true;
    place(s.edge, new Vector3(...at(end, -s.radius)), new Vector3(...at(end, s.radius)));
  }
}

function rod(radius: number, material: MeshBasicMaterial): Mesh {
  const mesh = new Mesh(new CylinderGeometry(radius, radius, 1, 10), material);
  mesh.frustumCulled = false;
  return mesh;
}

function place(mesh: Mesh, a: Vector3 | null, b: Vector3 | null): void {
  mesh.visible = Boolean(a && b);
  if (!a || !b) return;
  const along = b.clone().sub(a);
  const length = along.length();
  mesh.position.copy(a).add(b).multiplyScalar(0.5);
  mesh.quaternion.copy(new Quaternion().setFromUnitVectors(Y, along.divideScalar(Math.max(length, 1e-6))));
  mesh.scale.set(1, length, 1);
}
