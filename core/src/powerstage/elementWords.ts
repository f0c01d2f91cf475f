/** How an element of a stage is named in words, and marked in a drawing or a symbol. */
export interface ElementWords {
  readonly words: string;
  /** Short, for a drawing. */
  readonly mark: string;
  /** Whether it stands in for something ideal and is no part to buy: a drawing shows it as wire. */
  readonly ideal?: boolean;
}

/** By the name of the element without its number. */
const STEMS: Readonly<Record<string, ElementWords>> = {
  source: { words: 'source', mark: 'Vsrc' },
  sourceImpedance: { words: 'source impedance', mark: 'Zsrc' },
  feed: { words: 'ideal feed choke', mark: 'feed', ideal: true },
  fuse: { words: 'fuse', mark: 'F' },
  reversePolarity: { words: 'reverse-polarity element', mark: 'Drev' },
  suppressor: { words: 'transient suppressor', mark: 'Dsup' },
  precharge: { words: 'precharge resistor', mark: 'Rch' },
  preload: { words: 'preload', mark: 'Rpre' },
  inputFilter: { words: 'input filter inductor', mark: 'Lfilt' },
  inputDamping: { words: 'input filter damping', mark: 'Cdamp' },
  inputTerminal: { words: 'capacitor at the terminals', mark: 'Cterm' },
  inputCapacitor: { words: 'input capacitor bank', mark: 'Cin' },
  highSide: { words: 'high-side switch', mark: 'HS' },
  lowSide: { words: 'low-side switch', mark: 'LS' },
  outputHighSide: { words: 'output high-side switch', mark: 'OHS' },
  outputLowSide: { words: 'output low-side switch', mark: 'OLS' },
  inductor: { words: 'inductor', mark: 'L' },
  diode: { words: 'rectifier diode', mark: 'D' },
  senseResistor: { words: 'sense resistor', mark: 'Rs' },
  outputCapacitor: { words: 'output capacitor bank', mark: 'Cout' },
  outputFilter: { words: 'second-stage filter inductor', mark: 'Lout' },
  outputFilterCapacitor: { words: 'second-stage filter capacitor bank', mark: 'Cfilt' },
  load: { words: 'load', mark: 'load' },
};

/** A name taken apart: `highSide2Body` is the body diode of the high-side switch of phase 2. */
const PARTS = /^(?<stem>[A-Za-z]+?)(?<number>\d*)(?<body>Body)?$/;

/** The words for an element, or for all elements of a place when the name has no number. @public */
export function elementWords(name: string): ElementWords {
  const { stem = name, number = '', body } = PARTS.exec(name)?.groups ?? {};
  const known = STEMS[stem] ?? { words: stem, mark: stem };
  const words = body === undefined ? known.words : known.words.replace('switch', 'body diode');
  return {
    words: number === '' ? words : `${words} ${number}`,
    mark: `${known.mark}${number}${body === undefined ? '' : ' body'}`,
    ...(known.ideal === true && { ideal: true }),
  };
}

const NODES: Readonly<Record<string, string>> = {
  supply: 'source terminal',
  leads: 'end of the leads',
  fused: 'behind the fuse',
  filter: 'input of the filter',
  in: 'input of the stage',
  sw: 'switch node',
  swOut: 'output switch node',
  sensed: 'node between inductor and sense resistor',
  out: 'output',
  filtered: 'filtered output',
};

/** The words for a node. @public */
export function nodeWords(name: string): string {
  const { stem = name, number = '' } = PARTS.exec(name)?.groups ?? {};
  const known = NODES[stem] ?? stem;
  return number === '' ? known : `${known} ${number}`;
}
