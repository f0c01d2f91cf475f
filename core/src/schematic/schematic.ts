import { GROUND, type Coupling, type Element } from '../circuit/elements.js';
import type { PowerStage } from '../powerstage/powerStage.js';

/** Share of a current in a wire: an element's current from its `a` to its `b`, or against that. @public */
export interface Carried {
  readonly element: string;
  readonly sign: 1 | -1;
}

/** A wire of the drawing; its current counts from the first point to the second and is the sum of what it carries. */
export interface Wire {
  readonly from: readonly [x: number, y: number];
  readonly to: readonly [x: number, y: number];
  readonly carries: readonly Carried[];
}

/** An element in its place: from the first point to the second, leads included. @public */
export interface PlacedElement {
  readonly element: Element;
  readonly from: readonly [x: number, y: number];
  readonly to: readonly [x: number, y: number];
  /** Whether the element's `a` end is at the second point. */
  readonly reversed: boolean;
  /** Series elements lie in the upper rail, bypasses beside one of them, shunts stand between rail and ground. */
  readonly place: 'series' | 'bypass' | 'shunt';
}

/** A stage as a drawing: one phase of it, the others as what they draw and deliver. Lengths in drawing units. @public */
export interface Schematic {
  readonly width: number;
  readonly height: number;
  readonly elements: readonly PlacedElement[];
  readonly wires: readonly Wire[];
  readonly nodes: readonly { readonly name: string; readonly x: number; readonly y: number }[];
  /** Where the phases that are not drawn meet the ones that are. */
  readonly others: readonly { readonly x: number; readonly y: number; readonly at: 'top' | 'ground' }[];
  /** Where the ground symbol hangs. */
  readonly ground: readonly [x: number, y: number];
  /** The core that an inductor shares with those of phases that are not drawn. */
  readonly cores: readonly SharedCore[];
}

/** An inductor on one core with others: how it is wound against them. @public */
export interface SharedCore {
  readonly inductor: string;
  /** Phases of the others, from 1. */
  readonly phases: readonly number[];
  /** Whether their dots are at opposite ends, so that steady currents cancel in the core. */
  readonly opposed: boolean;
}

/** The core that the inductor of a phase is on, where it shares one. */
function coresOf(couplings: readonly Coupling[], inductors: readonly string[], phase: number): readonly SharedCore[] {
  const inductor = inductors[phase];
  const shared = couplings.filter(({ first, second }) => first === inductor || second === inductor);
  if (inductor === undefined || shared.length === 0) return [];
  const phases = shared.map(({ first, second }) => inductors.indexOf(first === inductor ? second : first) + 1);
  return [
    { inductor, phases: phases.sort((a, b) => a - b), opposed: shared.every(({ coefficient }) => coefficient < 0) },
  ];
}

const SHUNT_WIDTH = 74;
const SERIES_WIDTH = 78;
const STUB_WIDTH = 34;
const NODE_WIDTH = 14;
const BYPASS_Y = 34;
const RAIL_Y = 100;
const GROUND_Y = 232;
const STUB_LENGTH = 40;
const HEIGHT = 272;
const LEFT = 18;

/** One thing that joins a rail at a place along it, and what it feeds into the rail. */
interface Joint {
  readonly x: number;
  readonly feeds: readonly Carried[];
}

/** The current an element brings into a node. */
const intoNode = (element: Element, node: string): Carried => ({
  element: element.name,
  sign: element.b === node ? 1 : -1,
});

const touches = (element: Element, node: string): boolean => element.a === node || element.b === node;
const otherEnd = (element: Element, node: string): string => (element.a === node ? element.b : element.a);
const isSeries = ({ a, b }: Element): boolean => a !== GROUND && b !== GROUND;

/** The way from the source to the load without touching ground: the upper rail of the drawing. */
function spineOf(elements: readonly Element[], from: string, to: string): readonly Element[] {
  const reached = new Map<string, readonly Element[]>([[from, []]]);
  const queue = [from];
  for (let node = queue.shift(); node !== undefined; node = queue.shift()) {
    for (const element of elements) {
      if (!isSeries(element) || !touches(element, node)) continue;
      const next = otherEnd(element, node);
      if (reached.has(next)) continue;
      reached.set(next, [...(reached.get(node) ?? []), element]);
      queue.push(next);
    }
  }
  return reached.get(to) ?? [];
}

/** Wires along a rail between its joints: each carries what was fed in before it. */
function railWires(joints: readonly Joint[], y: number): readonly Wire[] {
  const ordered = [...joints].sort((a, b) => a.x - b.x);
  const wires: Wire[] = [];
  let carries: readonly Carried[] = [];
  ordered.forEach((joint, i) => {
    carries = [...carries, ...joint.feeds];
    const next = ordered[i + 1];
    if (next && next.x > joint.x) wires.push({ from: [joint.x, y], to: [next.x, y], carries });
  });
  return wires;
}

/**
 * Draw a stage from its circuit: the way from source to load as the upper rail, everything between it and ground standing
 * below, diodes beside their switches above. The drawing holds no knowledge of any topology.
 *
 * @param phase which phase is drawn, from 0; the others appear as one joint per rail with the sum of their currents.
 * @public
 */
export function schematicOf({ circuit, elements: roles, outputNode }: PowerStage, phase: number): Schematic {
  const own = new Set(roles.byPhase[phase]);
  // Other phases, and a controller that was drawn into the circuit, only feed the nodes they touch.
  const elsewhere = new Set([...roles.byPhase.flat().filter((name) => !own.has(name)), ...roles.controller]);
  const drawn = circuit.elements.filter(({ name }) => !elsewhere.has(name));
  const others = circuit.elements.filter(({ name }) => elsewhere.has(name));
  const feedOfOthers = (node: string): readonly Carried[] =>
    others.filter((element) => touches(element, node)).map((element) => intoNode(element, node));

  const source = drawn.find(({ name }) => name === roles.source);
  const start = source?.a ?? 'in';
  const spine = spineOf(drawn, start, outputNode);
  const onSpine = new Set(spine.map(({ name }) => name));

  const placed: PlacedElement[] = [];
  const wires: Wire[] = [];
  const nodes: { name: string; x: number; y: number }[] = [];
  const stubs: { x: number; y: number; at: 'top' | 'ground' }[] = [];
  const groundJoints: Joint[] = [];
  let x = LEFT;
  let node = start;
  /** What the element before this node, and what lies beside it, feed into the node. */
  let arriving: Joint[] = [];

  const stub = (joints: Joint[]): void => {
    const feeds = feedOfOthers(node);
    if (feeds.length === 0) return;
    x += STUB_WIDTH / 2;
    joints.push({ x, feeds });
    wires.push({ from: [x, RAIL_Y - STUB_LENGTH], to: [x, RAIL_Y], carries: feeds });
    stubs.push({ x, y: RAIL_Y - STUB_LENGTH, at: 'top' });
    x += STUB_WIDTH / 2;
  };

  for (let i = 0; i <= spine.length; i += 1) {
    const next = spine[i];
    const here = node;
    const joints = arriving;
    const begin = x;
    const leavesToPhase = next !== undefined && own.has(next.name);
    if (!leavesToPhase) stub(joints);
    const shunts = drawn.filter((element) => !isSeries(element) && touches(element, here));
    // The source stands at the far left and the load at the far right, whatever the order they are named in.
    shunts.sort((a, b) => Number(b === source) - Number(a === source));
    shunts.sort((a, b) => Number(a.name === roles.load) - Number(b.name === roles.load));
    for (const element of shunts) {
      if (x === begin) x += NODE_WIDTH;
      placed.push({
        element,
        from: [x, RAIL_Y],
        to: [x, GROUND_Y],
        reversed: element.a === GROUND,
        place: 'shunt',
      });
      joints.push({ x, feeds: [intoNode(element, here)] });
      groundJoints.push({ x, feeds: [intoNode(element, GROUND)] });
      x += SHUNT_WIDTH;
    }
    if (leavesToPhase) stub(joints);
    if (x === begin) x += 2 * NODE_WIDTH;
    nodes.push({ name: here, x: Math.min(...joints.map((joint) => joint.x)), y: RAIL_Y });
    arriving = [];
    if (next) {
      const after = otherEnd(next, here);
      const end = x + SERIES_WIDTH;
      const across = (element: Element, y: number, place: 'series' | 'bypass'): void => {
        placed.push({ element, from: [x, y], to: [end, y], reversed: element.b === here, place });
        joints.push({ x, feeds: [intoNode(element, here)] });
        arriving.push({ x: end, feeds: [intoNode(element, after)] });
      };
      across(next, RAIL_Y, 'series');
      for (const element of drawn) {
        if (onSpine.has(element.name) || !touches(element, here) || !touches(element, after)) continue;
        across(element, BYPASS_Y, 'bypass');
        wires.push(
          { from: [x, RAIL_Y], to: [x, BYPASS_Y], carries: [intoNode(element, after)] },
          { from: [end, BYPASS_Y], to: [end, RAIL_Y], carries: [intoNode(element, after)] },
        );
      }
      x = end;
      node = after;
    }
    wires.push(...railWires(joints, RAIL_Y));
  }
  const groundFeeds = feedOfOthers(GROUND);
  if (groundFeeds.length > 0) {
    const at = placed.find(({ element, place }) => place === 'shunt' && own.has(element.name));
    const stubX = (at?.from[0] ?? LEFT) + STUB_WIDTH;
    groundJoints.push({ x: stubX, feeds: groundFeeds });
    wires.push({ from: [stubX, GROUND_Y + STUB_LENGTH / 2], to: [stubX, GROUND_Y], carries: groundFeeds });
    stubs.push({ x: stubX, y: GROUND_Y + STUB_LENGTH / 2, at: 'ground' });
  }
  wires.push(...railWires(groundJoints, GROUND_Y));
  return {
    width: x,
    height: HEIGHT,
    elements: placed,
    wires,
    nodes,
    others: stubs,
    ground: [groundJoints[0]?.x ?? LEFT, GROUND_Y],
    cores: coresOf(circuit.couplings, roles.inductors, phase),
  };
}
