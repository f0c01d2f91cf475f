import { formatQuantity, type Element, type Unit } from '@yundro/core';

const DIGITS = 3;

/** What an element is worth, for the drawing; undefined where the drawing has no room for what matters. */
export function elementValue(element: Element): string {
  const value = (of: number, unit: Unit): string => formatQuantity(of, unit, DIGITS);
  switch (element.kind) {
    case 'resistor':
      return value(element.resistance, 'ohm');
    case 'inductor':
      return value(element.inductance, 'H');
    case 'capacitor':
      return value(element.capacitance, 'F');
    case 'voltageSource':
      return value(element.voltage, 'V');
    case 'currentSource':
      return value(Math.abs(element.current), 'A');
    case 'switch':
      return value(element.onResistance, 'ohm');
    case 'diode':
      return value(element.forwardVoltage, 'V');
    case 'transconductor':
      return value(element.transconductance, 'S');
    case 'idealAmplifier':
    case 'currentSense':
      return '';
  }
}

/** What is in series with an element or goes with its value, in words. */
export function elementDetails(element: Element): string {
  const value = (of: number, unit: Unit): string => formatQuantity(of, unit, DIGITS);
  switch (element.kind) {
    case 'inductor':
      return `${value(element.inductance, 'H')}, ${value(element.resistance, 'ohm')} in series`;
    case 'capacitor':
      return `${value(element.capacitance, 'F')} at its bias, ESR ${value(element.esr, 'ohm')}, ESL ${value(element.esl, 'H')}`;
    case 'switch':
      return `${value(element.onResistance, 'ohm')} when closed`;
    case 'diode':
      return `${value(element.forwardVoltage, 'V')} and ${value(element.dynamicResistance, 'ohm')} when it conducts`;
    case 'currentSource':
      return `draws ${value(Math.abs(element.current), 'A')}`;
    case 'resistor':
    case 'voltageSource':
    case 'transconductor':
    case 'idealAmplifier':
    case 'currentSense':
      return elementValue(element);
  }
}
