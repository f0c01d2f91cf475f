/** Body diode taken where a MOSFET record names none. Common practice for silicon at full current. */
export const BODY_DIODE_DEFAULT = { forwardVoltage: 0.8, dynamicResistance: 0.01 } as const;
