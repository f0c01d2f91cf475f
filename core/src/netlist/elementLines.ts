import type { Element } from '../circuit/elements.js';
import { EDGE_TIME } from '../rules/rules.js';
import { currentName, saturatingInductorLines, type SaturatingInductor } from './saturatingInductorLines.js';
import { LEAST, number } from './spiceValue.js';

/** Resistance of an open switch, ohm. */
const OPEN = 1e8;

/** Gain that stands for an ideal amplifier's. */
export const AMPLIFIER_GAIN = 1e7;

/**
 * An element as lines of SPICE, with the state it starts in. The series inductance of a capacitor has a resistor of L/t beside it, t
 * being the time of a switching edge: no stepped current makes more of it than the edge would, L ΔI/t.
 *
 * @param transitTimes of junctions that give charge back, s, by the names of their diodes.
 */
export function elementLines(
  e: Element,
  capacitorVoltage: (name: string) => number,
  inductorCurrent: (name: string) => number,
  saturating: ReadonlyMap<string, SaturatingInductor> = new Map(),
  transitTimes: ReadonlyMap<string, number> = new Map(),
): readonly string[] {
  const { name, a, b } = e;
  switch (e.kind) {
    case 'resistor':
      return [`r_${name} ${a} ${b} ${number(Math.max(e.resistance, LEAST))}`];
    case 'voltageSource':
      return [`v_${name} ${a} ${b} DC ${number(e.voltage)}`];
    case 'currentSource':
      return [`i_${name} ${a} ${b} DC ${number(e.current)}`];
    case 'inductor': {
      const saturated = saturating.get(name);
      if (saturated) return saturatingInductorLines(e, saturated);
      return [
        `l_${name} ${a} ${name}_w ${number(e.inductance)} IC=${number(inductorCurrent(name))}`,
        `r_${name} ${name}_w ${b} ${number(Math.max(e.resistance, LEAST))}`,
      ];
    }
    case 'capacitor':
      return [
        `r_${name} ${a} ${name}_r ${number(Math.max(e.esr, LEAST))}`,
        ...(e.esl > 0
          ? [
              `l_${name} ${name}_r ${name}_l ${number(e.esl)} IC=${number(inductorCurrent(name))}`,
              // A switch of the netlist steps a current at once; the inductance answers as to an edge of a real one.
              `rd_${name} ${name}_r ${name}_l ${number(e.esl / EDGE_TIME)}`,
            ]
          : []),
        `c_${name} ${name}_${e.esl > 0 ? 'l' : 'r'} ${b} ${number(e.capacitance)} IC=${number(capacitorVoltage(name))}`,
      ];
    case 'switch':
      return [
        `s_${name} ${a} ${b} g_${name} 0 m_${name}`,
        `.model m_${name} SW(VT=0.5 VH=0 RON=${number(Math.max(e.onResistance, LEAST))} ROFF=${number(OPEN)})`,
      ];
    case 'diode': {
      const transit = transitTimes.get(name) ?? 0;
      return [
        `r_${name} ${a} ${name}_r ${number(Math.max(e.dynamicResistance, LEAST))}`,
        `v_${name} ${name}_r ${name}_v DC ${number(e.forwardVoltage)}`,
        `d_${name} ${name}_v ${b} m_${name}`,
        // An almost ideal junction: a few millivolts at any current.
        `.model m_${name} D(IS=1e-12 N=0.005${transit > 0 ? ` TT=${number(transit)}` : ''})`,
      ];
    }
    case 'transconductor':
      return [`g_${name} ${a} ${b} ${e.plus} ${e.minus} ${number(e.transconductance)}`];
    case 'currentSense':
      return [`b_${name} ${a} ${b} V = ${number(e.gain)}*${currentName(e.inductor, saturating)}`];
    case 'idealAmplifier':
      return [`e_${name} ${a} ${b} ${e.plus} ${e.minus} ${number(AMPLIFIER_GAIN)}`];
  }
}
