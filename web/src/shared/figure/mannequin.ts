/** A drawn person in space: solids with part numbers, dressed so that lines fall where clothes end. */
import {
  BoxGeometry,
  CylinderGeometry,
  Group,
  Matrix4,
  Mesh,
  Quaternion,
  SphereGeometry,
  Vector3,
  type BufferGeometry,
  type Object3D,
  type RawShaderMaterial,
} from "three";

import { LIMBS, pointAt } from "@/lib/figure";
import type { Traces } from "@/lib/traces";

import { partMaterial } from "./ink";

const Y = new Vector3(0, 1, 0);
const still = new Quaternion();
const ball = new SphereGeometry(1, 12, 8);
const large = new SphereGeometry(1, 22, 14);
const box = new BoxGeometry(1, 1, 1);
const tubes = new Map<number, CylinderGeometry>();

/** A cone stump of unit length along y whose far end is `ratio` times as wide. */
function tube(ratio: number): CylinderGeometry {
  const key = Math.round(ratio * 50);
  const known = tubes.get(key) ?? new CylinderGeometry(ratio, 1, 1, 12, 1, true);
  tubes.set(key, known);
  return known;
}

/** What is one piece on a person: no line runs inside it. The sleeve ends above the elbow, the arm goes on bare. */
const PIECES: Record<string, string> = {
  lead_upper_arm: "lead sleeve",
  lead_forearm: "lead arm",
  lead_hand: "lead hand",
  trail_upper_arm: "trail sleeve",
  trail_forearm: "trail arm",
  trail_hand: "trail hand",
  lead_thigh: "trousers",
  lead_shank: "trousers",
  trail_thigh: "trousers",
  trail_shank: "trousers",
  lead_foot: "lead shoe",
  trail_foot: "trail shoe",
};
const GO_ON = /forearm|hand|shank/;
const SLEEVE = 0.62;
/** How far from the shaft a hand may be seen and still hold it, m. */
const HOLDS_M = 0.11;
const FIST = new Vector3(0.036, 0.05, 0.04);

class Solid {
  readonly mesh: Mesh;
  constructor(geometry: BufferGeometry, parent: Object3D, material: RawShaderMaterial) {
    this.mesh = new Mesh(geometry, material);
    this.mesh.frustumCulled = false;
    this.mesh.matrixAutoUpdate = false;
    parent.add(this.mesh);
  }
  set(place: Vector3, turn: Quaternion, size: Vector3): void {
    this.mesh.matrix.compose(place, turn, size);
    this.mesh.matrixWorldNeedsUpdate = true;
  }
  /** Between two points, `r` wide at the first. */
  between(a: Vector3 | null, b: Vector3 | null, r: number): void {
    this.mesh.visible = Boolean(a && b);
    if (!a || !b) return;
    const along = b.clone().sub(a);
    const length = along.length();
    const turn = new Quaternion().setFromUnitVectors(Y, along.divideScalar(Math.max(length, 1e-6)));
    this.set(a.clone().add(b).multiplyScalar(0.5), turn, new Vector3(r, length, r));
  }
  sphere(place: Vector3 | null, r: number): void {
    this.mesh.visible = place !== null;
    if (place) this.set(place, still, new Vector3().setScalar(r));
  }
}

/** A limb with round ends; one that goes on from another needs no near end. */
class Limb {
  private readonly stick: Solid;
  private readonly near: Solid | null;
  private readonly far: Solid;
  constructor(
    readonly r0: number,
    readonly r1: number,
    make: (g: BufferGeometry) => Solid,
    goesOn = false,
  ) {
    this.stick = make(tube(r1 / r0));
    this.near = goesOn ? null : make(ball);
    this.far = make(ball);
  }
  set(a: Vector3 | null, b: Vector3 | null): void {
    this.stick.between(a, b, this.r0);
    this.near?.sphere(a && b ? a : null, this.r0);
    this.far.sphere(a && b ? b : null, this.r1);
  }
}

type At = (name: string) => Vector3 | null;
const mix = (a: Vector3, b: Vector3, share: number) => a.clone().lerp(b, share);

/** The whole person and the club; `pose` moves it to an instant. */
export class Mannequin {
  readonly group = new Group();
  /** Joints as they were last posed. */
  places: Vector3[] = [];
  private readonly materials = new Map<string, RawShaderMaterial>();
  private readonly measured: Set<string>;
  private readonly limbs: { part: string; from: string; to: string; limb: Limb }[];
  private readonly bare: Record<string, Limb>;
  private readonly fists: Record<string, Solid>;
  private readonly chest: Solid;
  private readonly belly: Solid;
  private readonly yoke: Limb;
  private readonly hips: Solid;
  private readonly neck: Solid;
  private readonly head: Solid;
  private readonly cap: Solid;
  private readonly peak: Solid;
  private readonly shaft: Solid;
  private readonly clubHead: Solid;

  constructor(
    measured: string[],
    private readonly ghost: boolean,
  ) {
    this.measured = new Set(measured);
    const make = (part: string, piece: string) => (g: BufferGeometry) => new Solid(g, this.group, this.material(part, piece));
    this.limbs = LIMBS.map((l) => ({ ...l, limb: new Limb(l.r0, l.r1, make(l.part, PIECES[l.part]!), GO_ON.test(l.part)) }));
    const sides = ["lead", "trail"] as const;
    this.bare = Object.fromEntries(sides.map((s) => [s, new Limb(0.041, 0.039, make(`${s}_upper_arm`, `${s} arm`), true)]));
    this.fists = Object.fromEntries(sides.map((s) => [s, make(`${s}_hand`, `${s} hand`)(ball)]));
    this.chest = make("upper_body", "shirt")(large);
    this.belly = make("upper_body", "shirt")(large);
    this.yoke = new Limb(0.062, 0.062, make("upper_body", "shirt"));
    this.hips = make("pelvis", "trousers")(large);
    this.neck = make("upper_body", "neck")(tube(0.92));
    this.head = make("head", "face")(large);
    this.cap = make("head", "cap")(large);
    this.peak = make("head", "cap")(ball);
    this.shaft = make("club", "club")(tube(0.75));
    this.clubHead = make("club", "club")(box);
  }

  /** Pieces are numbered as they come; what is not measured has a number of its own, so that it stays faint. */
  private material(part: string, piece: string): RawShaderMaterial {
    const faint = this.ghost || !this.measured.has(part);
    const key = `${piece}${faint ? " faint" : ""}`;
    const known = this.materials.get(key) ?? partMaterial(this.materials.size + 1, faint);
    this.materials.set(key, known);
    return known;
  }

  pose(block: Traces, t: number, mirror: boolean): void {
    this.places = [];
    const at: At = (name) => {
      const p = pointAt(block, name, t, mirror);
      if (!p) return null;
      const place = new Vector3(...p);
      this.places.push(place);
      return place;
    };
    for (const { part, from, to, limb } of this.limbs) {
      const [a, b] = [at(from), at(to)];
      const sleeve = part.endsWith("upper_arm");
      limb.set(a, sleeve && a && b ? mix(a, b, SLEEVE) : b);
      if (sleeve) this.bare[part.split("_")[0]!]!.set(a && b ? mix(a, b, SLEEVE) : null, b);
    }
    this.trunk(at);
    this.headOf(at);
    this.club(at("grip_end"), at("club_head"));
    for (const side of ["lead", "trail"] as const) this.fist(side, at);
  }

  private club(grip: Vector3 | null, head: Vector3 | null): void {
    this.shaft.between(grip, head, 0.0095);
    this.clubHead.mesh.visible = Boolean(grip && head);
    if (!grip || !head) return;
    const along = head.clone().sub(grip).normalize();
    this.clubHead.set(head, new Quaternion().setFromUnitVectors(Y, along), new Vector3(0.07, 0.05, 0.075));
  }

  /** A closed hand around the shaft where it is nearest; an open one where there is no club in reach. */
  private fist(side: "lead" | "trail", at: At): void {
    const [wrist, fingers, grip, head] = [at(`${side}_wrist`), at(`${side}_fingers`), at("grip_end"), at("club_head")];
    const fist = this.fists[side]!;
    fist.mesh.visible = Boolean(wrist && fingers);
    if (!wrist || !fingers) return;
    let place = fingers;
    let along = fingers.clone().sub(wrist).normalize();
    if (grip && head) {
      const shaft = head.clone().sub(grip).normalize();
      const onShaft = grip.clone().addScaledVector(shaft, fingers.clone().sub(grip).dot(shaft));
      if (onShaft.distanceTo(fingers) < HOLDS_M) [place, along] = [mix(fingers, onShaft, 0.75), shaft];
    }
    fist.set(place, new Quaternion().setFromUnitVectors(Y, along), FIST);
  }

  private trunk(at: At): void {
    const [pelvis, front, up, neck, chest] = ["pelvis", "pelvis_front", "pelvis_up", "neck", "chest"].map(at);
    const whole = pelvis && front && up && neck && chest;
    for (const s of [this.hips, this.belly, this.chest]) s.mesh.visible = Boolean(whole);
    const [lead, trail] = [at("lead_shoulder"), at("trail_shoulder")];
    this.yoke.set(lead, trail);
    if (!whole) return;
    const spine = neck.clone().sub(pelvis);
    const length = spine.length();
    const ahead = chest.clone().sub(neck);
    const hipsTurn = axes(front.clone().sub(pelvis), up.clone().sub(pelvis));
    const chestTurn = axes(ahead, spine);
    this.hips.set(pelvis.clone().addScaledVector(up.clone().sub(pelvis).normalize(), -0.03), hipsTurn, new Vector3(0.112, 0.166, 0.115));
    this.belly.set(
      pelvis.clone().addScaledVector(spine, 0.33),
      axes(ahead.clone().add(front.clone().sub(pelvis)), spine),
      new Vector3(0.108, 0.148, 0.33 * length),
    );
    this.chest.set(pelvis.clone().addScaledVector(spine, 0.7), chestTurn, new Vector3(0.118, 0.176, 0.35 * length));
  }

  private headOf(at: At): void {
    const [neck, head, face, crown] = ["neck", "head", "face", "crown"].map(at);
    this.neck.between(neck ?? null, head ?? null, 0.047);
    for (const s of [this.head, this.cap, this.peak]) s.mesh.visible = Boolean(head && face && crown);
    if (!head || !face || !crown) return;
    const ahead = face.clone().sub(head).normalize();
    const over = crown.clone().sub(head).normalize();
    const turn = axes(ahead, over);
    this.head.set(head, turn, new Vector3(0.094, 0.074, 0.116));
    this.cap.set(head.clone().addScaledVector(over, 0.05).addScaledVector(ahead, -0.006), turn, new Vector3(0.101, 0.081, 0.076));
    this.peak.set(head.clone().addScaledVector(ahead, 0.1).addScaledVector(over, 0.047), turn, new Vector3(0.072, 0.062, 0.012));
  }

  dispose(): void {
    for (const m of this.materials.values()) m.dispose();
  }
}

/** Turn whose x looks `ahead` and whose z is as near to `up` as that allows. */
function axes(ahead: Vector3, up: Vector3): Quaternion {
  const z = up.clone().normalize();
  const x = ahead.clone().addScaledVector(z, -ahead.dot(z)).normalize();
  const y = new Vector3().crossVectors(z, x);
  return new Quaternion().setFromRotationMatrix(new Matrix4().makeBasis(x, y, z));
}
