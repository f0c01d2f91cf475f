import type { Element } from '../circuit/elements.js';
import { dot, product } from '../linalg/dense.js';
import { blockingTerminals } from '../layout/blockingTerminals.js';
import { takeoverOf, transitTime, type Takeover } from '../layout/ringing.js';
import type { WorstLoop } from '../layout/worstLoops.js';
import type { Segment } from '../orbit/segment.js';
import { BODY_DIODE_DEFAULT } from '../parts/bodyDiode.js';
import { good, refused, type Result } from '../result.js';
import type { SolvedPoint } from '../steady/operatingPoint.js';
import { elementLines } from './elementLines.js';
import { number } from './spiceValue.js';

/** Steps of the simulator in an edge, and in a ring; rings that are looked at: the first, from which on it only falls. */
const IN_EDGE = 100;
const IN_RING = 400;
const RINGS = 1.25;
/** Before the edge the junction that will be turned off carries the current: so many of its transit times, and edges. */
const TRANSITS = 20;
const EDGES = 2;
/** V by which a junction has let go when it is past its forward voltage. */
const CLEAR = 0.02;
/** A time in which something steps without stepping in none, s. */
const STEP = 1e-12;

/** The edge that is drawn. */
interface Edge {
  readonly main: Element;
  readonly rectifier: Element;
  /** The junction that is turned off: the rectifier itself, its body diode, or one that is added where none is drawn. */
  readonly junction: Extract<Element, { kind: 'diode' }>;
  readonly takeover: Takeover;
  /** What stands and flows just before the main switch closes. */
  readonly before: Segment;
}

const pairOf = ({ a, b }: Element): string => [a, b].sort().join(' ');

/** The stretch at whose end a device closes. */
function beforeClosing({ solution }: SolvedPoint, name: string): Segment | undefined {
  const segments = solution.segments.filter(({ duration }) => duration > 0);
  return segments.find(
    ({ equations }, k) =>
      !equations.conducting.includes(name) &&
      segments[(k + 1) % segments.length]?.equations.conducting.includes(name) === true,
  );
}

function edgeOf(solved: SolvedPoint, loop: WorstLoop, inductance: number): Edge | undefined {
  const { elements } = solved.powerStage.circuit;
  const main = elements.find(({ name }) => name === loop.main);
  const rectifier = elements.find(({ name }) => name !== loop.main && loop.devices.includes(name));
  const before = main && beforeClosing(solved, main.name);
  if (!main || !rectifier || !before || !loop.rings) return undefined;
  const [cathode, anode] = blockingTerminals(solved.solution, rectifier);
  const junction = elements.find((e) => e.kind === 'diode' && e.a === anode && e.b === cathode);
  const takeover = takeoverOf({ ...loop.rings, recoveryCharge: loop.rings.recoveryCharge ?? 0, inductance });
  return {
    main,
    rectifier,
    junction:
      junction?.kind === 'diode'
        ? junction
        : { kind: 'diode', name: `${rectifier.name}Body`, a: anode, b: cathode, ...BODY_DIODE_DEFAULT },
    takeover,
    before,
  };
}

/**
 * The edge of a main switch as a plain SPICE3 netlist, with the parasitics of its hot loop: the inductance of its copper, the output capacitance of
 * both devices, an edge as long as the switch makes it, and what the junction that is turned off gives back, as the transit time of its model.
 * It starts in the steady state just before the switch closes, the junction carrying the current; `blocked` measures the peak on the device
 * that blocks. Units SI.
 *
 * The gate lets the current of the switch rise at its rate and then lets its voltage fall: drawn as a source in series with it, which holds what
 * stands on the switch until the junction has let go. The series inductance of capacitors in the loop is part of the loop's. Output capacitance is linear, at
 * the voltage blocked.
 *
 * @param loop of this operating point, as `worstLoops` finds it there.
 * @param inductance of its copper, H.
 * @returns a problem where the records do not say what it rings with.
 * @public
 */
export function edgeNetlist(title: string, solved: SolvedPoint, loop: WorstLoop, inductance: number): Result<string> {
  const { powerStage, point } = solved;
  const { circuit } = powerStage;
  const edge = edgeOf(solved, loop, inductance);
  const { rings } = loop;
  if (!edge || !rings)
    return refused({
      code: 'missing',
      path: 'parts',
      quantity: 'output charge of the devices of the hot loop',
      expected: 'it in their records, or fill what is typical of their class',
    });
  const { main, rectifier, junction, takeover, before } = edge;
  const { equations, final } = before;
  const valueOf = (of: 'current' | 'voltage', name: string): number => {
    const row = equations[of].get(name);
    return row ? dot(row, final) : 0;
  };
  const transit = transitTime(takeover);
  const transitTimes = new Map([[junction.name, transit]]);
  const lead = TRANSITS * transit + EDGES * rings.edge;
  const rates = product(equations.dynamics, final, final.length, final.length, 1);
  const chokes = new Set(powerStage.elements.inductors);
  // A choke starts with as much more as it gives up until the edge.
  const current = (name: string): number => {
    const row = equations.current.get(name);
    return valueOf('current', name) - (row && chokes.has(name) ? lead * dot(row, rates) : 0);
  };
  // Capacitor voltages are the first states, in the order of the circuit.
  const capacitors = circuit.elements.filter((e) => e.kind === 'capacitor').map((e) => e.name);
  const capacitorVoltage = (name: string): number => final[capacitors.indexOf(name)] ?? 0;
  const ring = 2 * Math.PI * Math.sqrt(inductance * rings.capacitance);
  const end = lead + takeover.time + takeover.rest + RINGS * ring;
  const step = Math.min(rings.edge / IN_EDGE, ring / IN_RING);
  const inner = `${main.name}_p`;
  const inLoop = new Set(loop.hops.flatMap(({ elements }) => elements));
  // A body diode of the main switch lies on its side of the inductance.
  const placed = (e: Element): Element =>
    e.kind === 'diode' && pairOf(e) === pairOf(main)
      ? { ...e, a: e.a === main.a ? inner : e.a, b: e.b === main.a ? inner : e.b }
      : e.kind === 'capacitor' && inLoop.has(e.name)
        ? { ...e, esl: 0 }
        : e;
  const lines = (e: Element): readonly string[] => elementLines(e, capacitorVoltage, current, undefined, transitTimes);
  const closed = ({ kind, name }: Element): boolean =>
    kind === 'switch' && name !== main.name && name !== rectifier.name && equations.conducting.includes(name);
  const [cathode, anode] = blockingTerminals(solved.solution, rectifier);
  const onRectifier = (cathode === rectifier.a ? 1 : -1) * valueOf('voltage', rectifier.name);
  return good(
    [
      `* ${title.replace(/[\r\n]+/g, ' ')}: ${point.inputVoltage.toPrecision(6)} V in, ${point.outputVoltage.toPrecision(6)} V out, ${point.outputCurrent.toPrecision(6)} A`,
      `* The edge of ${main.name} with ${inductance.toPrecision(4)} H in its hot loop. Units SI. Circuit:`,
      ...(rings.recoveryCharge === undefined
        ? ['* What the junction gives back is not stated, and is left out: it makes it more.']
        : []),
      ...circuit.elements.filter(({ name }) => name !== main.name).flatMap((e) => lines(placed(e))),
      ...circuit.couplings.map(
        ({ first, second, coefficient }, i) => `k_${String(i + 1)} l_${first} l_${second} ${number(coefficient)}`,
      ),
      '* The hot loop:',
      ...mainLines(solved, edge, loop, {
        inductance,
        inner,
        lead,
        voltage: valueOf('voltage', main.name),
        carrying: onRectifier,
      }),
      ...(circuit.elements.includes(junction) ? [] : lines(junction)),
      `c_oss_${rectifier.name} ${cathode} ${anode} ${number(rings.capacitance)} IC=${number(onRectifier)}`,
      `e_blocked blocked 0 ${cathode} ${anode} 1`,
      '* Gates:',
      ...circuit.elements
        .filter((e) => e.kind === 'switch' && e.name !== main.name)
        .map((e) => `vg_${e.name} g_${e.name} 0 DC ${closed(e) ? '1' : '0'}`),
      `vg_${main.name} g_${main.name} 0 PWL(0 0 ${number(lead - STEP)} 0 ${number(lead + STEP)} 1)`,
      '* Run and measure:',
      `.tran ${number(step)} ${number(end)} 0 ${number(step)} uic`,
      `.meas tran blocked MAX v(blocked) FROM=${number(lead)} TO=${number(end)}`,
      '.end',
      '',
    ].join('\n'),
  );
}

/** The main switch behind the inductance of the loop, with the source of its edge and its output capacitance. */
function mainLines(
  solved: SolvedPoint,
  { main, junction, takeover }: Edge,
  { rings }: WorstLoop,
  drawn: {
    readonly inductance: number;
    readonly inner: string;
    readonly lead: number;
    readonly voltage: number;
    readonly carrying: number;
  },
): readonly string[] {
  const { name, a, b } = main;
  const { inductance, inner, lead, voltage, carrying } = drawn;
  const { held, time, rest, rate } = takeover;
  const [plus] = blockingTerminals(solved.solution, main);
  const sign = plus === a ? 1 : -1;
  // Until then the junction carries the current, whatever carried it before.
  const drop = junction.forwardVoltage + junction.dynamicResistance * (rings?.current ?? 0);
  const left = Math.abs(voltage) + drop + carrying - held;
  // The current rises at its rate whatever the resistances of the loop and of the junction take: the switch gives way by as much.
  const leftThen = left - ((rings?.resistance ?? 0) + junction.dynamicResistance) * rate * time;
  // v(timer) is the time since the junction let go, in shares of the rest of the edge.
  const fall = Math.max(rest, STEP);
  const charge = 1e-3;
  // While it gives charge back the junction still stands at its forward voltage, less what the reverse current takes.
  const letGo = junction.forwardVoltage - 1.1 * junction.dynamicResistance * takeover.surplus - CLEAR;
  const none = (): number => 0;
  return [
    `l_loop ${a} ${inner} ${number(inductance)} IC=0`,
    ...elementLines({ ...main, a: inner, b: `${name}_e` }, none, none),
    `v_left left 0 PWL(0 ${number(left)} ${number(lead)} ${number(left)} ${number(lead + time)} ${number(leftThen)})`,
    `b_timer 0 timer I = ${number(charge)}*u(v(blocked)+${number(letGo)})`,
    `c_timer timer 0 ${number(charge * fall)} IC=0`,
    `b_edge ${name}_e ${b} V = ${number(sign)}*uramp(v(left)-${number(leftThen)}*v(timer))`,
    `c_oss_${name} ${inner} ${b} ${number(rings?.capacitance ?? 0)} IC=${number(sign * (left + held))}`,
  ];
}
