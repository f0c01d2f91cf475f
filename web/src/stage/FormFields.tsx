import { formatQuantity, TOPOLOGIES, TOPOLOGY_NAMES, topologyOf, USUAL_COUPLING, type Topology } from '@yundro/core';
import { Link, useParams } from 'react-router';
import { ChoiceField } from '../fields/ChoiceField';
import { QuantityField } from '../fields/QuantityField';
import { takeText } from './editing';
import { useSession } from './stageSession';

/** The topologies in the words of the screen. */
const CHOICES = TOPOLOGY_NAMES.map((value) => ({ value, words: TOPOLOGIES[value].words }));
const RECTIFIERS = [
  { value: 'synchronous', words: 'synchronous' },
  { value: 'diode', words: 'diode' },
];
const COUPLINGS = [
  { value: 'none', words: 'none' },
  { value: 'inverse', words: 'inverse' },
  { value: 'direct', words: 'direct' },
];
const LEGS = [
  { value: 'regions', words: 'by region' },
  { value: 'simultaneous', words: 'together' },
];

const recordOf = (topology: string): Topology | undefined => {
  const name = TOPOLOGY_NAMES.find((one) => one === topology);
  return name && TOPOLOGIES[name];
};

/** The sign of the output goes with the topology. */
const signEdit = (topology: string, outputVoltage: number) => [
  {
    path: ['targets', 'outputVoltage'],
    value: Math.abs(outputVoltage) * (recordOf(topology)?.sign ?? 1),
  },
];

/** Take a topology, as if it were picked in its field. */
export function chooseTopology(topology: string, outputVoltage: number): void {
  takeText(['topology'], topology, { value: topology }, { also: signEdit(topology, outputVoltage) });
}

const CORES = [
  { value: 'pairs', words: 'in pairs' },
  { value: 'all', words: 'all of them' },
] as const;

/** Whether the inductors of the phases are coupled, how far, and which of them share a core. */
export function CouplingFields() {
  const phases = useSession((session) => session.document?.phases ?? 1);
  const coupled = useSession((session) => session.document?.coupling.kind !== 'none');
  if (phases === 1 && !coupled)
    return <p className="quiet small mb-0">Coupling of the inductors: with more than one phase.</p>;
  const odd = phases % 2 === 1;
  return (
    <>
      <ChoiceField
        path={['coupling', 'kind']}
        label="Coupling"
        choices={COUPLINGS}
        also={(value) => [
          { path: ['coupling', 'coefficient'], value: value === 'none' ? undefined : USUAL_COUPLING },
          // An odd number has no pairs.
          { path: ['coupling', 'core'], value: value === 'none' || !odd ? undefined : 'all' },
        ]}
      />
      {coupled && <QuantityField path={['coupling', 'coefficient']} label="Coefficient" />}
      {coupled && !odd && phases > 2 && (
        <ChoiceField path={['coupling', 'core']} label="On one core" choices={CORES} fallback="pairs" />
      )}
    </>
  );
}

/** The form of the stage: topology, rectifier, phases, coupling. */
export function FormFields() {
  const { id = '' } = useParams();
  const outputVoltage = useSession((session) => session.document?.targets.outputVoltage) ?? 0;
  const stage = useSession((session) => session.document);
  const borders =
    stage && stage.legs !== 'simultaneous' ? topologyOf(stage).borders?.(stage.targets.outputVoltage) : undefined;
  return (
    <fieldset>
      <legend>Form</legend>
      <ChoiceField
        path={['topology']}
        label="Topology"
        choices={CHOICES}
        also={(value) => signEdit(value, outputVoltage)}
      />
      <ChoiceField path={['rectifier']} label="Rectifier" choices={RECTIFIERS} />
      {stage && topologyOf(stage).borders !== undefined && (
        <ChoiceField path={['legs']} label="Legs switch" choices={LEGS} fallback="regions" />
      )}
      <QuantityField path={['phases']} label="Phases" />
      <CouplingFields />
      <p className="small mb-0">
        <Link to={`/stages/${id}/phases`}>How many phases?</Link>
      </p>
      {borders && (
        <p className="quiet small mb-0">
          Loss-free: boost region below {formatQuantity(borders.boostBelow, 'V', 3)} input, buck region above{' '}
          {formatQuantity(borders.buckAbove, 'V', 3)}, both legs between.
        </p>
      )}
    </fieldset>
  );
}
