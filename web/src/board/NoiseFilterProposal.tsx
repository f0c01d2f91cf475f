import { formatQuantity, TERMINAL, type NoiseFilter, type NoiseNotes, type Stage } from '@yundro/core';
import { useState } from 'react';
import { Button } from 'react-bootstrap';
import { useSurvey } from '../engine/useSurvey';
import { Answered } from '../shown/Answered';
import { putPart } from '../stage/editing';
import { FormView } from '../stage/FormView';
import { useLookedAt } from '../stage/useCorner';

interface Wanted {
  readonly stage: Stage;
  readonly inputVoltage: number;
  readonly outputCurrent: number;
  readonly network: NoiseNotes['network'];
  readonly limit: readonly { readonly frequency: number; readonly level: number }[];
  readonly margin: number;
  readonly deviation: number;
}

interface Props {
  readonly noise: NoiseNotes;
  readonly limit: Wanted['limit'];
  /** Whether the noise is of an earlier edit. */
  readonly stale: boolean;
  /** The capacitor at the terminals is the stage's from now on. */
  readonly onTerminal: () => void;
}

/** A filter that brings the noise below its limit: looked for when it is asked for, taken into the stage when it is wanted. */
export function NoiseFilterProposal({ noise, limit, stale, onTerminal }: Props) {
  const looked = useLookedAt();
  const [wanted, setWanted] = useState<Wanted>();
  const asked = useSurvey<Wanted, NoiseFilter | string>(
    wanted,
    (survey, { stage, network, inputVoltage, outputCurrent, ...judged }) =>
      survey.noiseFilter(stage, network, { inputVoltage, outputCurrent }, judged),
  );
  if (!wanted)
    return (
      <p>
        <Button
          variant="outline-secondary"
          disabled={!looked || stale}
          onClick={() => {
            if (!looked) return;
            const { stage, inputVoltage, outputCurrent } = looked;
            const { network, margin, deviation } = noise;
            setWanted({ stage, inputVoltage, outputCurrent, network, limit, margin, deviation });
          }}
        >
          Propose a filter
        </Button>
      </p>
    );
  return (
    <Answered of={asked} what="filter" wait={<p className="quiet">Filters are being tried …</p>}>
      {(found) =>
        typeof found === 'string' ? (
          <p role="status">There is no filter to propose: {found}.</p>
        ) : (
          <Proposed
            found={found}
            stale={stale}
            replaces={wanted.stage.parts.inputFilter !== undefined}
            onTaken={() => {
              onTerminal();
              setWanted(undefined);
            }}
          />
        )
      }
    </Answered>
  );
}

interface ProposedProps {
  readonly found: NoiseFilter;
  readonly stale: boolean;
  /** Whether the stage has a filter, which this one takes the place of. */
  readonly replaces: boolean;
  readonly onTaken: () => void;
}

function Proposed({ found, stale, replaces, onTaken }: ProposedProps) {
  const [fault, setFault] = useState<string>();
  const { inductance, resistance, damping, terminal, over, peak, stage } = found;
  const ohms = (value: number): string => formatQuantity(value, 'ohm', 3);
  return (
    <div role="status">
      {replaces && 'In place of the filter that the stage has: '}
      {formatQuantity(inductance, 'H', 2)} before the input capacitors, {formatQuantity(damping.capacitance, 'F', 2)}{' '}
      with {ohms(damping.resistance)} beside them for damping, and {formatQuantity(terminal, 'F', 2)} across the
      terminals: below the limit by {(-over).toFixed(1)} dB beyond the margin. Its output impedance peaks at{' '}
      {ohms(peak)}, where the stage draws with {ohms(stage)}: the loop verdicts judge it when it is in the stage.{' '}
      <Button
        variant="outline-secondary"
        size="sm"
        disabled={stale}
        onClick={() => {
          const refused = putPart(['parts', 'inputFilter'], {
            inductance,
            resistance,
            damping,
            terminal: { capacitance: terminal, ...TERMINAL },
          });
          setFault(refused);
          if (refused === undefined) onTaken();
        }}
      >
        Take it into the stage
      </Button>{' '}
      {fault !== undefined && (
        <span className="fault" role="alert">
          {fault}
        </span>
      )}
      <details>
        <summary>Working</summary>
        {found.working.map((form) => (
          <FormView key={form.name} form={form} />
        ))}
      </details>
    </div>
  );
}
