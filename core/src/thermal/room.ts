/** Ambient assumed when the targets name none, °C. @public */
export const ROOM_TEMPERATURE = 25;

/** Junction limit where the targets name none, °C. Common practice for silicon, with some room below its rating. */
export const JUNCTION_LIMIT = 125;
