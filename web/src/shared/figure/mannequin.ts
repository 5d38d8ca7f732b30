/** An ink drawing of a person in space: paper-coloured solids, each with an outline of its own. */
import {
  BackSide,
  BoxGeometry,
  CylinderGeometry,
  FrontSide,
  Group,
  Matrix4,
  Mesh,
  MeshBasicMaterial,
  Object3D,
  Quaternion,
  SphereGeometry,
  Vector3,
} from "three";

import { LIMBS, pointAt } from "@/lib/figure";
import type { Traces } from "@/lib/traces";

export interface Inks {
  paper: string;
  ink: string;
  faint: string;
}

let outlineM = 0.013;

/** Width of the drawn outlines, m: a fixed width on the screen whatever the view. */
export function setOutline(metres: number): void {
  outlineM = metres;
}

/** Limbs whose far joint is drawn by the next limb. */
const CONTINUED = /upper_arm|forearm|thigh/;
const Y = new Vector3(0, 1, 0);
/** Toward the eye: a limb's outline stands a little in front of it, so that it keeps its edge against the body. */
const forward = new Vector3();
const FORWARD_RADII = 0.72;

export function lookFrom(eye: Vector3, target: Vector3): void {
  forward.copy(eye).sub(target).normalize();
}

const ball = new SphereGeometry(1, 16, 11);
const tubes = new Map<number, CylinderGeometry>();

/** A cone stump of unit length along y whose far end is `ratio` times as wide. */
function tube(ratio: number): CylinderGeometry {
  const key = Math.round(ratio * 50);
  const known = tubes.get(key) ?? new CylinderGeometry(ratio, 1, 1, 14, 1, true);
  tubes.set(key, known);
  return known;
}

/** One solid with its outline: the outline is the same shape, larger, seen from inside. */
class Inked {
  readonly fill: Mesh;
  readonly line: Mesh;
  constructor(geometry: SphereGeometry | CylinderGeometry | BoxGeometry, parent: Object3D, fill: MeshBasicMaterial, line: MeshBasicMaterial) {
    this.fill = new Mesh(geometry, fill);
    this.line = new Mesh(geometry, line);
    for (const m of [this.fill, this.line]) {
      m.frustumCulled = false;
      m.matrixAutoUpdate = false;
      parent.add(m);
    }
  }
  set(place: Vector3, turn: Quaternion, size: Vector3, grow: Vector3 = size.clone().addScalar(outlineM), ahead = 0): void {
    this.fill.matrix.compose(place, turn, size);
    this.line.matrix.compose(moved.copy(place).addScaledVector(forward, ahead), turn, grow);
    this.fill.matrixWorldNeedsUpdate = true;
    this.line.matrixWorldNeedsUpdate = true;
  }
  show(on: boolean): void {
    this.fill.visible = on;
    this.line.visible = on;
  }
}

interface LimbShape {
  from: string;
  to: string;
  r0: number;
  r1: number;
  stick: Inked;
  ends: Inked[];
}

const moved = new Vector3();
const still = new Quaternion();
const v = (p: [number, number, number]) => new Vector3(...p);

/** The whole person and the club; `pose` moves it to an instant. */
export class Mannequin {
  readonly group = new Group();
  private readonly limbs: LimbShape[] = [];
  private readonly chest: Inked;
  private readonly belly: Inked;
  private readonly hips: Inked;
  private readonly neck: Inked;
  private readonly head: Inked;
  private readonly brim: Inked;
  private readonly shaft: Inked;
  private readonly clubHead: Inked;
  private readonly materials: { fill: MeshBasicMaterial; line: MeshBasicMaterial; faint: boolean }[] = [];

  constructor(measured: string[], ghost: boolean) {
    const seen = new Set(measured);
    const ink = (part: string) => {
      const faint = ghost || !seen.has(part);
      const known = this.materials.find((m) => m.faint === faint);
      if (known) return known;
      const made = {
        faint,
        fill: new MeshBasicMaterial({ side: FrontSide }),
        line: new MeshBasicMaterial({ side: BackSide }),
      };
      this.materials.push(made);
      return made;
    };
    const solid = (geometry: SphereGeometry | CylinderGeometry | BoxGeometry, part: string) => {
      const m = ink(part);
      return new Inked(geometry, this.group, m.fill, m.line);
    };
    for (const limb of LIMBS) {
      this.limbs.push({
        ...limb,
        stick: solid(tube(limb.r1 / limb.r0), limb.part),
        ends: CONTINUED.test(limb.part) ? [solid(ball, limb.part)] : [solid(ball, limb.part), solid(ball, limb.part)],
      });
    }
    this.belly = solid(ball, "pelvis");
    this.hips = solid(ball, "pelvis");
    this.chest = solid(ball, "upper_body");
    this.neck = solid(tube(0.9), "upper_body");
    this.head = solid(ball, "head");
    this.brim = solid(ball, "head");
    this.shaft = solid(tube(0.75), "club");
    this.clubHead = solid(new BoxGeometry(1, 1, 1), "club");
  }

  colour(inks: Inks): void {
    for (const m of this.materials) {
      m.fill.color.set(inks.paper);
      m.line.color.set(m.faint ? inks.faint : inks.ink);
    }
  }

  pose(block: Traces, t: number, mirror: boolean): void {
    const at = (name: string) => {
      const p = pointAt(block, name, t, mirror);
      return p ? v(p) : null;
    };
    for (const limb of this.limbs) this.limb(limb, at(limb.from), at(limb.to));
    this.trunk(at);
    const [grip, clubHead] = [at("grip_end"), at("club_head")];
    this.stick(this.shaft, grip, clubHead, 0.009, 0.55 * outlineM);
    this.clubHead.show(Boolean(grip && clubHead));
    if (grip && clubHead) {
      const along = clubHead.clone().sub(grip).normalize();
      this.clubHead.set(
        clubHead,
        new Quaternion().setFromUnitVectors(Y, along),
        new Vector3(0.07, 0.045, 0.07),
        new Vector3(0.07 + 1.4 * outlineM, 0.045 + 1.4 * outlineM, 0.07 + 1.4 * outlineM),
      );
    }
  }

  private limb(limb: LimbShape, a: Vector3 | null, b: Vector3 | null): void {
    this.stick(limb.stick, a, b, limb.r0);
    limb.ends.forEach((end, k) => {
      const place = k === 0 ? a : b;
      end.show(Boolean(a && b && place));
      const r = k === 0 ? limb.r0 : limb.r1;
      if (place) end.set(place, still, new Vector3().setScalar(r), new Vector3().setScalar(r + outlineM), FORWARD_RADII * r);
    });
  }

  private stick(stick: Inked, a: Vector3 | null, b: Vector3 | null, r0: number, outline = outlineM): void {
    stick.show(Boolean(a && b));
    if (!a || !b) return;
    const along = b.clone().sub(a);
    const length = along.length();
    const turn = new Quaternion().setFromUnitVectors(Y, along.divideScalar(Math.max(length, 1e-6)));
    stick.set(a.clone().add(b).multiplyScalar(0.5), turn, new Vector3(r0, length, r0), new Vector3(r0 + outline, length, r0 + outline), FORWARD_RADII * r0);
  }

  private trunk(at: (name: string) => Vector3 | null): void {
    const [pelvis, front, up, neck, chest] = ["pelvis", "pelvis_front", "pelvis_up", "neck", "chest"].map(at);
    const [head, face, crown] = ["head", "face", "crown"].map(at);
    const whole = Boolean(pelvis && front && up && neck && chest);
    for (const s of [this.hips, this.belly, this.chest]) s.show(whole);
    if (pelvis && front && up && neck && chest) {
      const spine = neck.clone().sub(pelvis);
      const length = spine.length();
      const ahead = chest.clone().sub(neck);
      const hipsTurn = axes(front.clone().sub(pelvis), up.clone().sub(pelvis));
      const chestTurn = axes(ahead, spine);
      this.hips.set(pelvis.clone().addScaledVector(up.clone().sub(pelvis).normalize(), -0.035), hipsTurn, new Vector3(0.108, 0.158, 0.105));
      this.belly.set(
        pelvis.clone().addScaledVector(spine, 0.3),
        axes(ahead.clone().add(front.clone().sub(pelvis)), spine),
        new Vector3(0.1, 0.128, 0.3 * length),
      );
      this.chest.set(pelvis.clone().addScaledVector(spine, 0.7), chestTurn, new Vector3(0.112, 0.168, 0.36 * length));
    }
    this.stick(this.neck, neck ?? null, head ?? null, 0.045);
    for (const s of [this.head, this.brim]) s.show(Boolean(head && face && crown));
    if (head && face && crown) {
      const ahead = face.clone().sub(head).normalize();
      const over = crown.clone().sub(head).normalize();
      const turn = axes(ahead, over);
      this.head.set(head, turn, new Vector3(0.098, 0.076, 0.118));
      this.brim.set(head.clone().addScaledVector(ahead, 0.095).addScaledVector(over, 0.045), turn, new Vector3(0.075, 0.06, 0.012));
    }
  }

  dispose(): void {
    for (const m of this.materials) {
      m.fill.dispose();
      m.line.dispose();
    }
  }
}

/** Turn whose x looks `ahead` and whose z is as near to `up` as that allows. */
function axes(ahead: Vector3, up: Vector3): Quaternion {
  const z = up.clone().normalize();
  const x = ahead.clone().addScaledVector(z, -ahead.dot(z)).normalize();
  const y = new Vector3().crossVectors(z, x);
  return new Quaternion().setFromRotationMatrix(new Matrix4().makeBasis(x, y, z));
}
