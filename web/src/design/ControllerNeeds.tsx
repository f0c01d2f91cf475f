import { FEATURES, withController, type Feature, type PartOf } from '@yundro/core';
import { useState } from 'react';
import { Button } from 'react-bootstrap';
import { useWorked } from '../engine/useWorked';
import { useParts } from '../library/useParts';
import { Answered } from '../shown/Answered';
import { putPart, putStage } from '../stage/editing';
import { sessionNow, useSession } from '../stage/stageSession';
import { useLookedAt } from '../stage/useCorner';

const WORDS: Readonly<Record<Feature, string>> = {
  'full-duty': '100 % duty ratio',
  'spread-spectrum': 'spread spectrum',
  'adjustable-frequency': 'adjustable frequency',
  'adjustable-soft-start': 'adjustable soft start',
  'adjustable-compensation': 'compensation outside',
  'power-good': 'power good',
  'mode-select': 'selection of the mode',
  synchronisation: 'synchronisation',
  tracking: 'tracking',
};
const NONE: readonly Feature[] = [];
/** Controllers listed that do not qualify. */
const LISTED = 8;

/** The stage with what a controller fixes; its network is shaped anew, unless it is pinned. */
function chooseController(part: PartOf<'controller'>): void {
  const { document, worked } = sessionNow();
  if (!document) return;
  const peaks = worked?.evaluation?.operatingPoints.map(({ inductorCurrent }) => inductorCurrent.peak) ?? [];
  // Sense resistor, gain and limit are made anew of what it senses.
  const bare = { senseResistance: undefined, currentSenseGain: undefined, currentLimit: undefined };
  const stage = withController({ ...document, control: { ...document.control, ...bare } }, part, {
    peak: peaks.length > 0 ? Math.max(...peaks) : undefined,
  });
  const { compensator } = stage.control;
  const shaped =
    compensator && !document.pinned.includes('control.compensator')
      ? { ...stage, control: { ...stage.control, compensator: { ...compensator, components: {} } } }
      : stage;
  putStage(shaped);
}

/** What the controller must offer beyond its figures, which records qualify, and why the others do not. */
export function ControllerNeeds() {
  const features = useSession((session) => session.document?.targets.features) ?? NONE;
  const named = useSession((session) => session.document?.control.controller);
  // The records are read when they are looked at.
  const [open, setOpen] = useState(false);
  const toggle = (feature: Feature): void => {
    const next = features.includes(feature) ? features.filter((one) => one !== feature) : [...features, feature];
    putPart(['targets', 'features'], next.length > 0 ? next : undefined);
  };
  return (
    <details
      className="mt-3"
      onToggle={({ target, currentTarget }) => target === currentTarget && setOpen(currentTarget.open)}
    >
      <summary>
        <strong>Controller</strong>{' '}
        <span className="quiet">
          {named ?? 'none chosen: its values are typed or typical'}
          {features.length > 0 && `; to offer ${features.map((one) => WORDS[one]).join(', ')}`}
        </span>
      </summary>
      <fieldset className="checklist">
        <legend className="small">It must offer</legend>
        {FEATURES.map((feature) => (
          <label key={feature} className="small">
            <input type="checkbox" checked={features.includes(feature)} onChange={() => toggle(feature)} />{' '}
            {WORDS[feature]}
          </label>
        ))}
      </fieldset>
      {open && <Candidates named={named} />}
    </details>
  );
}

function Candidates({ named }: { readonly named: string | undefined }) {
  const looked = useLookedAt();
  const { parts } = useParts('controller');
  const asked = useWorked(looked && parts && { work: looked.work, parts }, (engine, of) =>
    engine.controllerChoice(of.work, of.parts),
  );
  return (
    <Answered of={asked} what="list of controllers" wait={<p className="quiet">The records are being read …</p>}>
      {(found) => {
        const fitting = (found ?? []).filter(({ fits }) => fits);
        const unfit = (found ?? []).filter(({ fits }) => !fits);
        const chosen = unfit.find(({ part }) => part.name === named);
        const others = unfit.filter((one) => one !== chosen);
        return (
          <>
            {chosen && (
              <p role="status">
                {chosen.part.name} is chosen and does not qualify: {chosen.reasons.join(' ')}
              </p>
            )}
            <table className="plain" aria-label="Controllers that qualify">
              <tbody>
                {fitting.map(({ part }) => (
                  <tr key={part.name}>
                    <td>{part.name}</td>
                    <td className="quiet">{part.features.map((one) => WORDS[one]).join(', ')}</td>
                    <td>
                      <Button
                        variant="plain"
                        disabled={named === part.name}
                        aria-label={`Choose ${part.name}`}
                        onClick={() => chooseController(part)}
                      >
                        {named === part.name ? 'chosen' : 'Choose'}
                      </Button>
                    </td>
                  </tr>
                ))}
              </tbody>
            </table>
            {fitting.length === 0 && <p>No record qualifies.</p>}
            <details>
              <summary>{others.length} do not qualify, with the reasons</summary>
              <ul>
                {others.slice(0, LISTED).map(({ part, reasons }) => (
                  <li key={part.name}>
                    {part.name}: {reasons.join(' ')}
                  </li>
                ))}
              </ul>
            </details>
          </>
        );
      }}
    </Answered>
  );
}
