import type { CapacitorBank } from '@yundro/core';
import { Button } from 'react-bootstrap';
import { ChoiceField } from '../fields/ChoiceField';
import { PinToggle } from '../fields/PinToggle';
import { QuantityField } from '../fields/QuantityField';
import { putPart } from './editing';
import { useSession } from './stageSession';

const SIDES = {
  outputCapacitors: { words: 'Output capacitors', place: 'parts.outputCapacitors' },
  inputCapacitors: { words: 'Input capacitors', place: 'parts.inputCapacitors' },
} as const;

const KINDS = (['ceramic', 'polymer', 'electrolytic', 'film', 'tantalum'] as const).map((value) => ({
  value,
  words: value,
}));

/** What a bank starts as where there is none to copy: a middling ceramic part. */
const FIRST_BANK: CapacitorBank = { kind: 'ceramic', capacitance: 10e-6, esr: 3e-3, esl: 0.5e-9, count: 1 };

/** The banks of one side, in parallel: what each consists of, one more, one less. */
export function CapacitorBanks({ side }: { readonly side: keyof typeof SIDES }) {
  const banks = useSession((session) => session.document?.parts[side]) ?? [];
  const { words, place } = SIDES[side];
  const list = ['parts', side] as const;
  const add = (): void => {
    putPart(list, [...banks, banks.at(-1) ?? FIRST_BANK]);
  };
  if (banks.length === 0)
    return (
      <fieldset>
        <legend>
          {words} <PinToggle place={place} words={words} />
        </legend>
        <Button variant="plain" onClick={add}>
          Add a bank
        </Button>
      </fieldset>
    );
  return banks.map((bank, i) => {
    const at = (key: string) => [...list, i, key];
    const number = banks.length > 1 ? ` ${String(i + 1)}` : '';
    return (
      <fieldset key={`${side}${String(i)}`}>
        <legend>
          {words}
          {number}: {bank.kind} <PinToggle place={place} words={words} />
        </legend>
        <ChoiceField path={at('kind')} label="Kind" choices={KINDS} />
        <QuantityField path={at('capacitance')} label="Capacitance each" series="E6" />
        <QuantityField path={at('esr')} label="ESR each" />
        <QuantityField path={at('esl')} label="ESL each" />
        <QuantityField path={at('count')} label="In parallel" />
        <QuantityField path={at('tolerance')} label="Tolerance" optional />
        <QuantityField path={at('ratedVoltage')} label="Rated voltage" optional />
        <QuantityField path={at('rippleCurrentRating')} label="Ripple rating each" optional />
        <div className="part-acts">
          {i === banks.length - 1 && (
            <Button variant="plain" onClick={add}>
              Add a bank
            </Button>
          )}
          {(banks.length > 1 || side === 'inputCapacitors') && (
            <Button
              variant="plain"
              onClick={() =>
                putPart(
                  list,
                  banks.filter((_, other) => other !== i),
                )
              }
            >
              Remove{number === '' ? ' the bank' : ` bank${number}`}
            </Button>
          )}
        </div>
      </fieldset>
    );
  });
}
