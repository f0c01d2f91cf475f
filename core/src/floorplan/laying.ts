import { GROUND } from '../circuit/elements.js';
import { leastSpacing } from '../layout/spacing.js';
import { hullOf, lineToHull } from './hull.js';
import type { Outline } from './outline.js';
import {
  around,
  corners,
  gapOf,
  nearest,
  outlineBox,
  overlap,
  padBox,
  type Box,
  type Placed,
  type Placement,
  type Point,
} from './placement.js';
import { DIVIDER, FEEDBACK, type LoopStep, type PlanGround, type PlanNet } from './planGround.js';

/** Least room between bodies of parts, m: what placing machines and inspection want. Common practice. */
export const ASSEMBLY_GAP = 0.5e-3;
/** m of a feedback line from what swings. Common practice. */
export const FEEDBACK_CLEARANCE = 2e-3;

/** What a metre of each kind of line costs beside the others: loops above all, then what swings, then what carries current. */
const WEIGHTS = {
  loop: 12,
  switchNode: 6,
  power: 1.5,
  ground: 0.3,
  gate: 2,
  feedback: 5,
  spread: 0.6,
  quiet: 2,
  /** Not by the metre: once, where a feedback line would pass what swings. */
  passing: 0.1,
} as const;
/** m within which the quiet side is kept from what swings. */
const QUIET = 6e-3;

/** A pad where it would lie. */
interface LaidPad {
  readonly key: string;
  readonly net: string;
  readonly box: Box;
}

/** A part with its pads where they would lie. */
interface LaidPart {
  readonly outline: Outline;
  readonly box: Box;
  readonly pads: readonly LaidPad[];
}

function laidPart(outline: Outline, placed: Placed): LaidPart {
  return {
    outline,
    box: outlineBox(outline, placed),
    pads: outline.pads.map((pad) => ({ key: outline.key, net: pad.net, box: padBox(pad, placed) })),
  };
}

function weightOf(net: PlanNet | undefined, most: number): number {
  switch (net?.kind) {
    case 'switch node':
      return WEIGHTS.switchNode;
    case 'ground':
      return WEIGHTS.ground;
    case 'gate':
      return WEIGHTS.gate;
    case 'feedback':
      return WEIGHTS.feedback;
    default:
      return WEIGHTS.power * (0.3 + (net?.current ?? 0) / most);
  }
}

/** What a metre between the pads of two parts on a net costs, as both lie in a loop: by part and net, then by the other part. */
function loopPairs({ loops }: PlanGround): ReadonlyMap<string, ReadonlyMap<string, number>> {
  const pairs = new Map<string, Map<string, number>>();
  const most = Math.max(...loops.map(({ worst }) => worst.rate), 1e-9);
  loops.forEach(({ steps, worst }, turn) => {
    // Loops that share a bank are given different parts of it first.
    const rank = (
      { keys, each }: LoopStep | undefined = { keys: [], from: '', to: '', each: true },
      key: string,
    ): number => (each ? 0 : (keys.indexOf(key) - turn + loops.length * keys.length) % keys.length);
    steps.forEach((step, k) => {
      const next = steps[(k + 1) % steps.length];
      for (const a of step.keys)
        for (const b of next?.keys ?? []) {
          // Of parts side by side the first is nearest: the others help, but do not have to.
          const share = 1 / (1 + rank(step, a) + rank(next, b));
          for (const [one, other] of [
            [a, b],
            [b, a],
          ] as const) {
            const key = `${one}|${step.to}`;
            const of = pairs.get(key) ?? new Map<string, number>();
            of.set(other, Math.max(of.get(other) ?? 0, (WEIGHTS.loop * share * worst.rate) / most));
            pairs.set(key, of);
          }
        }
    });
  });
  return pairs;
}

const TURNS = [0, 1, 2, 3] as const;
/** Costs nearer than that are the same: the first place found stays. */
const TIE = 1e-12;

/** A part where it lies, or could. */
export interface Laid {
  readonly placed: Placed;
  readonly part: LaidPart;
}
/** What it costs there. */
interface Place extends Laid {
  readonly cost: number;
}

/**
 * Parts being laid on a board one beside another, each where it costs least: short loops by their rate of change, little copper on what swings,
 * short ways for current, gates and feedback, the quiet side away from what swings, a small board. Heuristic, derived here.
 */
export class Laying {
  private readonly outlines: ReadonlyMap<string, Outline>;
  private readonly nets: ReadonlyMap<string, PlanNet>;
  private readonly weights: ReadonlyMap<string, number>;
  private readonly swinging: readonly string[];
  private readonly pairs: ReturnType<typeof loopPairs>;
  private readonly outputNet: string;
  /** m between bodies: as wide as the highest voltage between two nets asks, so that no pads come too near. */
  private readonly room: number;
  private readonly laid = new Map<string, Laid>();
  /** Pads that lie, by their nets, the rectangle around all, and the copper of what swings. */
  private byNet = new Map<string, LaidPad[]>();
  private whole: Box | undefined;
  private hulls: readonly (readonly Point[])[] = [];

  constructor(ground: PlanGround) {
    const most = Math.max(...ground.nets.map(({ current }) => current), 1e-9);
    this.outlines = new Map(ground.outlines.map((outline) => [outline.key, outline]));
    this.nets = new Map(ground.nets.map((net) => [net.net, net]));
    this.weights = new Map(ground.nets.map((net) => [net.net, weightOf(net, most)]));
    this.swinging = ground.nets.filter(({ kind }) => kind === 'switch node').map(({ net }) => net);
    this.pairs = loopPairs(ground);
    this.outputNet = this.outlines.get(DIVIDER)?.pads.at(-1)?.net ?? '';
    this.room = Math.max(ASSEMBLY_GAP, leastSpacing('bare', Math.max(0, ...Object.values(ground.apart))));
  }

  /** Where everything lies now. */
  placement(): Placement {
    return Object.fromEntries([...this.laid].map(([key, { placed }]) => [key, placed]));
  }

  /** Lay a part at a place. */
  put(key: string, { placed, part }: Laid): void {
    this.laid.set(key, { placed, part });
  }

  /** Take a part up; undefined where it does not lie. */
  takeUp(key: string): Laid | undefined {
    const laid = this.laid.get(key);
    this.laid.delete(key);
    return laid;
  }

  /** What a part costs at a place, beside what lies; a controller whose divider is still to come without looking out for its line. */
  costAt({ part }: Laid): number {
    this.lookRound();
    return this.costOf(part, Infinity, false);
  }

  /** The best place for a part beside what lies; undefined where there is none. */
  best(key: string): Place | undefined {
    let best: Place | undefined;
    this.eachPlace(key, (placed, part) => {
      const cost = this.costOf(part, best?.cost ?? Infinity);
      if (!best || cost < best.cost - TIE) best = { placed, part, cost };
    });
    return best;
  }

  /** The best few places for a part, best first. */
  bestFew(key: string, few: number): readonly Place[] {
    const found: Place[] = [];
    this.eachPlace(key, (placed, part) => found.push({ placed, part, cost: this.costOf(part, Infinity) }));
    return found.sort((a, b) => a.cost - b.cost).slice(0, few);
  }

  /** The places of a part: at each side of each part that shares a net with it, its near end, middle or far end in line. */
  private eachPlace(key: string, visit: (placed: Placed, part: LaidPart) => void): void {
    const outline = this.outlines.get(key);
    if (!outline) return;
    this.lookRound();
    const visited = { free: false };
    const consider = (placed: Placed): void => {
      if (!this.clear(outlineBox(outline, placed))) return;
      visited.free = true;
      visit(placed, laidPart(outline, placed));
    };
    const beside = ({ box }: LaidPart): void => {
      for (const turn of TURNS) {
        const [across, down] = turn % 2 === 0 ? [outline.length, outline.width] : [outline.width, outline.length];
        const xs = [box.left + across / 2, (box.left + box.right) / 2, box.right - across / 2];
        const ys = [box.top + down / 2, (box.top + box.bottom) / 2, box.bottom - down / 2];
        const sides = [box.left - this.room - across / 2, box.right + this.room + across / 2];
        const over = [box.top - this.room - down / 2, box.bottom + this.room + down / 2];
        for (const x of sides) for (const y of ys) consider({ x, y, turn });
        for (const y of over) for (const x of xs) consider({ x, y, turn });
      }
    };
    if (this.laid.size === 0) consider({ x: 0, y: 0, turn: 0 });
    const shares = new Set(outline.pads.map(({ net }) => net));
    const others = [...this.laid.values()].map(({ part }) => part);
    for (const other of others) if (other.pads.some(({ net }) => shares.has(net))) beside(other);
    if (!visited.free) for (const other of others) beside(other);
  }

  private lookRound(): void {
    this.byNet = new Map();
    for (const { part } of this.laid.values())
      for (const pad of part.pads) {
        const known = this.byNet.get(pad.net);
        if (known) known.push(pad);
        else this.byNet.set(pad.net, [pad]);
      }
    this.hulls = this.swinging.map((net) => hullOf((this.byNet.get(net) ?? []).flatMap(({ box }) => corners(box))));
    this.whole = around([...this.laid.values()].map(({ part }) => part.box));
  }

  private clear(box: Box): boolean {
    // A hundredth is rounding.
    const room = 0.99 * this.room;
    const wide = { left: box.left - room, right: box.right + room, top: box.top - room, bottom: box.bottom + room };
    for (const { part } of this.laid.values()) if (overlap(wide, part.box)) return false;
    return true;
  }

  /** What a part costs at a place, beside all that lies; more than `enough` is not reckoned to the end. */
  private costOf(part: LaidPart, enough: number, lookingOut = true): number {
    let cost = 0;
    if (this.whole) {
      const { left, right, top, bottom } = this.whole;
      const { box } = part;
      const wide = Math.max(right, box.right) - Math.min(left, box.left) - (right - left);
      const high = Math.max(bottom, box.bottom) - Math.min(top, box.top) - (bottom - top);
      cost += WEIGHTS.spread * (wide + high);
    }
    for (const pad of part.pads) {
      if (cost >= enough) return cost;
      const pair = this.pairs.get(`${pad.key}|${pad.net}`);
      let near = Infinity;
      for (const other of this.byNet.get(pad.net) ?? []) {
        const gap = gapOf(pad.box, other.box);
        if (gap < near) near = gap;
        if (pair) cost += (pair.get(other.key) ?? 0) * gap;
      }
      if (near < Infinity) cost += (this.weights.get(pad.net) ?? 1) * near;
    }
    const quiet = part.outline.kind === 'controller' || part.outline.kind === 'divider';
    return quiet && cost < enough ? cost + this.quietCost(part, lookingOut) : cost;
  }

  /** What it costs the quiet side to be near what swings, and to have its line to the output pass over it. */
  private quietCost({ outline, pads, box }: LaidPart, lookingOut: boolean): number {
    let cost = 0;
    for (const net of this.swinging)
      for (const other of this.byNet.get(net) ?? [])
        for (const own of pads)
          if (this.nets.get(own.net)?.kind !== 'gate' && own.net !== GROUND)
            cost += WEIGHTS.quiet * Math.max(0, QUIET - gapOf(own.box, other.box));
    if (outline.kind === 'controller' && !lookingOut) return cost;
    // The controller looks out for the line of the divider, which will stand beside it.
    const from = pads.find(({ net }) => net === (outline.kind === 'divider' ? this.outputNet : FEEDBACK))?.box ?? box;
    let output: Box | undefined;
    for (const pad of this.byNet.get(this.outputNet) ?? []) {
      if (this.outlines.get(pad.key)?.kind !== 'capacitor') continue;
      if (!output || gapOf(pad.box, from) < gapOf(output, from)) output = pad.box;
    }
    if (!output) return cost;
    cost += WEIGHTS.power * gapOf(from, output) + this.passing(from, output);
    if (outline.kind !== 'divider') return cost;
    const [own] = pads.filter(({ net }) => net === FEEDBACK);
    const [pin] = this.byNet.get(FEEDBACK) ?? [];
    return own && pin ? cost + this.passing(own.box, pin.box) : cost;
  }

  /** What a line between two pads costs for each copper that swings which it passes too near. */
  private passing(one: Box, other: Box): number {
    const [a, b] = nearest(one, other);
    return WEIGHTS.passing * this.hulls.filter((hull) => lineToHull(a, b, hull) < FEEDBACK_CLEARANCE).length;
  }
}
