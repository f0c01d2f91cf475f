import { dampedInputFilter, nearestPreferred, type Stage } from '@yundro/core';
import type { ReactNode } from 'react';
import { Button } from 'react-bootstrap';
import { QuantityField } from '../fields/QuantityField';
import { putPart } from './editing';
import { useSession } from './stageSession';

/** What a second output filter starts as: small enough to leave the loop alone, common practice. */
const FIRST_OUTPUT_FILTER = {
  inductance: 100e-9,
  resistance: 2e-3,
  capacitors: [{ kind: 'ceramic', capacitance: 10e-6, esr: 3e-3, esl: 0.5e-9, count: 1 }],
};
const FIRST_SOURCE = { resistance: 0.01, inductance: 100e-9 };
/** What protects the input starts as usual small parts: common practice. Each is proposed for this stage at Board. */
const FIRST_FUSE = { resistance: 0.01 };
const FIRST_REVERSE = { resistance: 0.005 };
const FIRST_PRECHARGE = { resistance: 47 };
const firstSuppressor = ({ targets }: Stage) => ({ clampingVoltage: 1.4 * targets.inputVoltage.max });
/** Half a percent of full load. */
const firstPreload = ({ targets }: Stage) => ({
  resistance: nearestPreferred(Math.abs(targets.outputVoltage) / (0.005 * targets.outputCurrent.max), 'E24'),
});

interface OptionalPartProps {
  readonly place: Exclude<keyof Stage['parts'], 'cooling' | 'inductor'>;
  readonly words: string;
  /** What the part starts as. */
  readonly first: (stage: Stage) => unknown;
  readonly children: ReactNode;
}

/** A part that a stage may have or not: added with starting values, taken away as a whole. */
function OptionalPart({ place, words, first, children }: OptionalPartProps) {
  const stage = useSession((session) => session.document);
  if (!stage) return null;
  const path = ['parts', place];
  const there = stage.parts[place] !== undefined;
  const start = there ? undefined : first(stage);
  return (
    <fieldset>
      <legend>{words}</legend>
      {there && children}
      <div className="part-acts">
        {there || start !== undefined ? (
          <Button variant="plain" onClick={() => putPart(path, start)}>
            {there ? `Remove the ${words.toLowerCase()}` : `Add ${words.toLowerCase()}`}
          </Button>
        ) : (
          <span className="quiet small">It works together with input capacitors: add a bank of them first.</span>
        )}
      </div>
    </fieldset>
  );
}

/** What stands around the phases: source, protection, filters and preload. */
export function Surroundings() {
  const damping = useSession((session) => session.document?.parts.inputFilter?.damping);
  const terminal = useSession((session) => session.document?.parts.inputFilter?.terminal);
  return (
    <>
      <OptionalPart place="source" words="Source impedance" first={() => FIRST_SOURCE}>
        <QuantityField path={['parts', 'source', 'resistance']} label="Resistance" />
        <QuantityField path={['parts', 'source', 'inductance']} label="Inductance" />
      </OptionalPart>
      <OptionalPart place="fuse" words="Fuse" first={() => FIRST_FUSE}>
        <QuantityField path={['parts', 'fuse', 'resistance']} label="Resistance" />
        <QuantityField path={['parts', 'fuse', 'ratedCurrent']} label="Rated current" optional />
      </OptionalPart>
      <OptionalPart place="reversePolarity" words="Reverse-polarity element" first={() => FIRST_REVERSE}>
        <QuantityField path={['parts', 'reversePolarity', 'forwardVoltage']} label="Drop (diode)" />
        <QuantityField path={['parts', 'reversePolarity', 'resistance']} label="Resistance" />
        <QuantityField path={['parts', 'reversePolarity', 'blockingVoltageMax']} label="Blocks" optional />
      </OptionalPart>
      <OptionalPart place="suppressor" words="Transient suppressor" first={firstSuppressor}>
        <QuantityField path={['parts', 'suppressor', 'clampingVoltage']} label="Clamps at" />
        <QuantityField path={['parts', 'suppressor', 'standOffVoltage']} label="Stands off" optional />
      </OptionalPart>
      <OptionalPart place="precharge" words="Precharge" first={() => FIRST_PRECHARGE}>
        <QuantityField path={['parts', 'precharge', 'resistance']} label="Resistance" />
      </OptionalPart>
      <OptionalPart place="inputFilter" words="Input filter" first={dampedInputFilter}>
        <QuantityField path={['parts', 'inputFilter', 'inductance']} label="Inductance" />
        <QuantityField path={['parts', 'inputFilter', 'resistance']} label="Resistance" />
        {damping && (
          <>
            <QuantityField path={['parts', 'inputFilter', 'damping', 'capacitance']} label="Damping capacitance" />
            <QuantityField path={['parts', 'inputFilter', 'damping', 'resistance']} label="Damping resistance" />
          </>
        )}
      </OptionalPart>
      {terminal && (
        <fieldset>
          <legend>Across the terminals</legend>
          <QuantityField path={['parts', 'inputFilter', 'terminal', 'capacitance']} label="Capacitance" />
          <QuantityField path={['parts', 'inputFilter', 'terminal', 'esr']} label="ESR" />
          <div className="part-acts">
            <Button variant="plain" onClick={() => putPart(['parts', 'inputFilter', 'terminal'], undefined)}>
              Remove the capacitor at the terminals
            </Button>
          </div>
        </fieldset>
      )}
      <OptionalPart place="preload" words="Preload" first={firstPreload}>
        <QuantityField path={['parts', 'preload', 'resistance']} label="Resistance" />
      </OptionalPart>
      <OptionalPart place="outputFilter" words="Second output filter" first={() => FIRST_OUTPUT_FILTER}>
        <QuantityField path={['parts', 'outputFilter', 'inductance']} label="Inductance" />
        <QuantityField path={['parts', 'outputFilter', 'resistance']} label="Resistance" />
        <QuantityField path={['parts', 'outputFilter', 'capacitors', 0, 'capacitance']} label="Capacitance each" />
        <QuantityField path={['parts', 'outputFilter', 'capacitors', 0, 'esr']} label="ESR each" />
        <QuantityField path={['parts', 'outputFilter', 'capacitors', 0, 'count']} label="In parallel" />
      </OptionalPart>
    </>
  );
}
