import { edgeTimes } from '../losses/switchTerms.js';
import type { CompleteStage } from '../stage/completeStage.js';

/** What a probe and its ground lead make of an edge. */
export interface ProbeLead {
  /** m, of the ground lead: its loop has about a nanohenry to a millimetre (common practice). */
  readonly length: number;
  /** F, at the tip of the probe. */
  readonly capacitance: number;
  /** ohm, in series: what damps it. */
  readonly resistance: number;
}

/** H/m */
const LEAD_INDUCTANCE = 1e-6;
/** A passive probe of ten to one. Common practice. */
export const USUAL_PROBE = { capacitance: 12e-12, resistance: 60 };
/** m: the lead with a clip, and a spring at the tip. */
export const GROUND_LEAD = 0.15;
export const GROUND_SPRING = 0.01;
/** Points of the picture, and how many of its rise times it lasts. */
const POINTS = 400;
const LASTS = 12;

/** An edge as it is, and as it is seen. @public */
export interface SeenEdge {
  /** s */
  readonly time: Float64Array;
  readonly edge: Float64Array;
  readonly withSpring: Float64Array;
  readonly withLead: Float64Array;
  /** Hz, of the ring of the lead. */
  readonly ring: number;
}

/**
 * An edge as an oscilloscope shows it with a ground spring and with a ground lead: the inductance of the lead rings with the capacitance
 * of the probe's tip.
 *
 *     L di/dt = v(t) − R i − u,   C du/dt = i,   f = 1/(2π √(LC))
 *
 * Source: the series resonant circuit of any textbook, as in W. H. Hayt, J. E. Kemmerly, Engineering Circuit Analysis, ch. 9 (from memory).
 * Solved by the trapezoidal rule in steps of a fiftieth of the quickest period.
 *
 * @param height V, of the edge.
 * @param riseTime s
 */
export function seenEdge(height: number, riseTime: number): SeenEdge {
  const lead = { length: GROUND_LEAD, ...USUAL_PROBE };
  const spring = { length: GROUND_SPRING, ...USUAL_PROBE };
  const ring = 1 / (2 * Math.PI * Math.sqrt(LEAD_INDUCTANCE * lead.length * lead.capacitance));
  const duration = Math.max(LASTS * riseTime, 10 / ring);
  const time = Float64Array.from({ length: POINTS }, (_, k) => (duration * k) / (POINTS - 1));
  const start = duration / 10;
  const edgeAt = (t: number): number => height * Math.min(1, Math.max(0, (t - start) / riseTime));
  const answer = ({ length, capacitance, resistance }: ProbeLead): Float64Array => {
    const inductance = LEAD_INDUCTANCE * length;
    const quickest = 2 * Math.PI * Math.sqrt(inductance * capacitance);
    const step = duration / (POINTS - 1);
    const parts = Math.max(1, Math.ceil(step / (quickest / 50)));
    const h = step / parts;
    let current = 0;
    let voltage = 0;
    const out = new Float64Array(POINTS);
    for (let k = 1; k < POINTS; k += 1) {
      for (let part = 0; part < parts; part += 1) {
        const t = (k - 1) * step + part * h;
        const driven = (edgeAt(t) + edgeAt(t + h)) / 2;
        // Trapezoidal: both unknowns at the end of the step, eliminated by hand.
        const a = h / (2 * inductance);
        const b = h / (2 * capacitance);
        const next =
          (current * (1 - a * resistance - a * b) + 2 * a * (driven - voltage)) / (1 + a * resistance + a * b);
        voltage += b * (current + next);
        current = next;
      }
      out[k] = voltage;
    }
    return out;
  };
  return {
    time,
    edge: time.map(edgeAt),
    withSpring: answer(spring),
    withLead: answer(lead),
    ring,
  };
}

/** s, of an edge where the record of the switch says too little of it. Common practice. */
const USUAL_EDGE = 5e-9;

/** The edge of the switch node as its main switch turns on, as it is seen: as quick as the engine has it for the losses. @public */
export function switchNodeEdge(
  complete: CompleteStage,
  height: number,
): SeenEdge & { readonly riseTime: number; readonly stated: boolean } {
  const [leg] = complete.legs;
  const fall = leg && edgeTimes(leg.main, complete.stage.control.gateDriver)?.fall;
  const riseTime = fall ?? USUAL_EDGE;
  return { ...seenEdge(height, riseTime), riseTime, stated: fall !== undefined };
}
