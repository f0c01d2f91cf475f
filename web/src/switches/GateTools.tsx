import {
  HOT_SHARE,
  applied,
  bootstrapCapacitance,
  formatQuantity,
  gateResistanceForEdge,
  parseQuantity,
  mosfetOutputCharge,
  paralleledMosfet,
  ringingCapacitance,
  ringingFrequency,
  ringingInductance,
  SNUBBER_MULTIPLE,
  snubberLoss,
  snubberResistance,
  type AppliedForm,
  type SwitchPlace,
  type Unit,
} from '@yundro/core';
import { useMemo, useState } from 'react';
import { QuantityField } from '../fields/QuantityField';
import { useWorked } from '../engine/useWorked';
import { useSession } from '../stage/stageSession';
import { Answered } from '../shown/Answered';
import { useLookedAt } from '../stage/useCorner';
import { FormView } from '../stage/FormView';

/** What a bootstrap supply is asked for where nothing is typed: 100 mV of droop, 50 µA of a driver; a tight power loop has 3 nH. Common practice. */
const FIRST = { edge: '10n', droop: '100m', leakage: '50u', loop: '3n', ringing: '100M', added: '470p' };
type Input = keyof typeof FIRST;
const INPUTS: readonly { readonly key: Input; readonly words: string; readonly unit: Unit }[] = [
  { key: 'edge', words: 'Edge wanted', unit: 's' },
  { key: 'droop', words: 'Bootstrap droop', unit: 'V' },
  { key: 'leakage', words: 'Driver draws', unit: 'A' },
  { key: 'loop', words: 'Loop inductance', unit: 'H' },
  { key: 'ringing', words: 'Ringing measured', unit: 'Hz' },
  { key: 'added', words: 'halved by adding', unit: 'F' },
];

/** Driver, edges, bootstrap and snubber of the switch looked at. */
export function GateTools({ place }: { readonly place: SwitchPlace }) {
  const asked = useWorked(useLookedAt(), (engine, { work, corner }) => engine.gateChecks(work, corner));
  return (
    <section aria-label="Gate and snubber" className="mt-3">
      <h2>Gate and snubber</h2>
      <Answered of={asked} what="check of the gates" wait={null}>
        {(checks) =>
          checks?.map(({ place: lifted, words, form, threshold, risk }) => (
            <details key={lifted}>
              <summary>
                {risk ? '⚠ ' : ''}The edge of the other switch lifts the gate of the {words} to{' '}
                {formatQuantity(form.value, 'V', 3)}; its threshold is {formatQuantity(threshold, 'V', 3)}, and{' '}
                {HOT_SHARE} of that when hot
                {risk
                  ? ': it may turn on for a moment. Slow the edge, or hold the gate down harder.'
                  : ': it stays off.'}
              </summary>
              <FormView form={form} />
            </details>
          ))
        }
      </Answered>
      <Calculations place={place} />
    </section>
  );
}

function Calculations({ place }: { readonly place: SwitchPlace }) {
  const mosfet = useSession((session) => session.document?.parts[place]);
  const driver = useSession((session) => session.document?.control.gateDriver);
  const corners = useSession((session) => session.worked?.corners);
  const [texts, setTexts] = useState<Readonly<Record<Input, string>>>(FIRST);
  const read = useMemo(
    () => INPUTS.map(({ key, unit }) => ({ key, result: parseQuantity(texts[key], unit) })),
    [texts],
  );
  const forms = useMemo((): readonly AppliedForm[] => {
    const values = Object.fromEntries(
      read.flatMap(({ key, result }) => (result.ok && result.value > 0 ? [[key, result.value]] : [])),
    );
    const { edge, droop, leakage, loop, ringing, added } = values;
    const points = (corners ?? []).flatMap(({ point }) => (point ? [point] : []));
    const found: AppliedForm[] = [];
    const drive = driver?.voltage ?? mosfet?.gateDriveVoltage;
    const { gateCharge, gateDrainCharge, gateSourceCharge, thresholdVoltage, plateauVoltage } = mosfet ?? {};
    if (
      edge !== undefined &&
      drive !== undefined &&
      gateDrainCharge !== undefined &&
      thresholdVoltage !== undefined &&
      plateauVoltage !== undefined &&
      drive > plateauVoltage
    )
      found.push(
        applied(gateResistanceForEdge, {
          time: edge,
          gateSource: gateSourceCharge ?? 0,
          gateDrain: gateDrainCharge,
          threshold: thresholdVoltage,
          plateau: plateauVoltage,
          drive,
        }),
      );
    const longest = Math.max(...points.map(({ duty, switchingFrequency }) => duty / switchingFrequency), 0);
    if (droop !== undefined && gateCharge !== undefined && longest > 0)
      found.push(
        applied(bootstrapCapacitance, {
          gateCharge,
          leakage: leakage ?? 0,
          onTime: longest,
          recovery: 0,
          droop,
        }),
      );
    const fastest = Math.max(...points.map(({ switchingFrequency }) => switchingFrequency), 0);
    const voltage = Math.max(...points.map((point) => point.switchStress[place]?.voltage ?? 0), 0);
    const held = mosfet && voltage > 0 ? mosfetOutputCharge(paralleledMosfet(mosfet), voltage).charge : 0;
    // The slope of a charge that goes with the root of the voltage is half of the charge over the voltage.
    if (loop !== undefined && held > 0)
      found.push(applied(ringingFrequency, { inductance: loop, capacitance: held / (2 * voltage) }));
    if (ringing !== undefined && added !== undefined && fastest > 0) {
      const capacitance = applied(ringingCapacitance, { added });
      const inductance = applied(ringingInductance, { frequency: ringing, capacitance: capacitance.value });
      found.push(
        capacitance,
        inductance,
        applied(snubberResistance, { inductance: inductance.value, capacitance: capacitance.value }),
        applied(snubberLoss, { capacitance: SNUBBER_MULTIPLE * capacitance.value, voltage, fSw: fastest }),
      );
    }
    return found;
  }, [read, corners, driver, mosfet, place]);
  return (
    <>
      <div className="columns">
        <fieldset>
          <legend>Driver</legend>
          <QuantityField path={['control', 'gateDriver', 'voltage']} label="Gate drive voltage" optional />
          <QuantityField path={['control', 'gateDriver', 'turnOnResistance']} label="Turn-on resistance" optional />
          <QuantityField path={['control', 'gateDriver', 'turnOffResistance']} label="Turn-off resistance" optional />
          <QuantityField path={['deadTime']} label="Dead time" />
        </fieldset>
        <fieldset>
          <legend>Reckoned here</legend>
          {INPUTS.map(({ key, words, unit }) => {
            const wrong = read.find((one) => one.key === key)?.result.ok === false;
            return (
              <div className={`field ${wrong ? 'wrong' : ''}`} key={key}>
                <label htmlFor={`gate-${key}`}>{words}</label>
                <div className="entry">
                  <input
                    id={`gate-${key}`}
                    value={texts[key]}
                    onChange={(event) => setTexts({ ...texts, [key]: event.target.value })}
                  />
                  <span className="unit">{unit === 'ohm' ? 'Ω' : unit}</span>
                </div>
                {wrong && (
                  <div className="fault" role="alert">
                    “{texts[key]}” is no {words.toLowerCase()} in {unit}.
                  </div>
                )}
              </div>
            );
          })}
        </fieldset>
      </div>
      <table className="plain" aria-label="Gate and snubber values">
        <tbody>
          {forms.map((form) => (
            <tr key={form.name}>
              <td>
                <details>
                  <summary>{form.name}</summary>
                  <FormView form={form} />
                </details>
              </td>
              <td className="number">{formatQuantity(form.value, form.unit, 3)}</td>
            </tr>
          ))}
        </tbody>
      </table>
      <p className="small quiet">
        The snubber capacitor is three times what rings (common practice: three to four). Where the driver states no
        resistance, 2 Ω on and 1 Ω off are taken.
      </p>
    </>
  );
}
