import { conductorWords, formatQuantity, specOf, type MaterialChoice, type MaterialComparison } from '@yundro/core';
import { useMemo } from 'react';
import { Button } from 'react-bootstrap';
import { CurveChart } from '../charts/CurveChart';
import { ShareState } from '../engine/ShareState';
import { useShare } from '../engine/useShare';
import { Answered } from '../shown/Answered';
import { inductanceChart } from './chokeCharts';
import { useChokeWork } from './useChokeWork';
import type { WindingFramed } from './WindingStation';

/** The same choke of a powder, of a gapped ferrite, and on a ferrite ring without a gap. */
export function MaterialView({ frame, goTo }: WindingFramed) {
  const { asked, put } = useChokeWork();
  const shared = useShare<NonNullable<typeof asked>, MaterialComparison | string>(asked, (survey, of, tell) =>
    survey.chokeMaterials(of.stage, of.cores, tell),
  );
  const found = shared.asked;
  const wind = (choice: MaterialChoice): void => {
    if (!choice.design) return;
    put(specOf(choice.design.choke));
    goTo('choke');
  };
  return frame({
    fields: (
      <fieldset>
        <legend>Why it matters</legend>
        <p className="small">
          A choke stores energy in air: between the grains of a powder, or in the gap of a ferrite. A ring of ferrite
          has no air in it.
        </p>
      </fieldset>
    ),
    picture: (
      <>
        <ShareState of={shared} doing="Going through powders and ferrites" />
        <Answered of={found} what="comparison of materials" wait={null}>
          {(answer) => (typeof answer === 'string' ? <p className="quiet">{answer}</p> : <Compared of={answer} />)}
        </Answered>
      </>
    ),
    below: (
      <Answered of={found} what="comparison of materials" wait={null} beside>
        {(answer) =>
          typeof answer !== 'string' && (
            <table className="plain" aria-label="Powder beside ferrite">
              <thead>
                <tr>
                  <th>material</th>
                  <th>wound of</th>
                  <th className="number">loss</th>
                  <th className="number">cm³</th>
                  <th className="number">price</th>
                  <th>what it does</th>
                  <th />
                </tr>
              </thead>
              <tbody>
                {[answer.powder, answer.ferrite, answer.ring].map((choice) => (
                  <tr key={choice.words}>
                    <td>{choice.words}</td>
                    <td>
                      {choice.design
                        ? `${choice.design.choke.core.name}, ${String(choice.design.choke.turns)} turns, ${conductorWords(choice.design.choke.conductor)}`
                        : '–'}
                    </td>
                    <td className="number">{choice.design ? formatQuantity(choice.design.loss, 'W', 3) : '–'}</td>
                    <td className="number">{choice.design ? (1e6 * choice.design.volume).toPrecision(3) : '–'}</td>
                    <td className="number">{choice.design ? choice.design.price.toFixed(2) : '–'}</td>
                    <td className="small">{choice.says}</td>
                    <td>
                      {choice.design && (
                        <Button variant="plain" onClick={() => wind(choice)}>
                          Wind
                        </Button>
                      )}
                    </td>
                  </tr>
                ))}
              </tbody>
            </table>
          )
        }
      </Answered>
    ),
  });
}

function Compared({ of }: { readonly of: MaterialComparison }) {
  const chart = useMemo(() => {
    const tables = [of.powder, of.ferrite, of.ring].filter(({ table }) => table.length > 0);
    const { demand } = of;
    return inductanceChart(tables, demand, 2.2 * demand.inductance);
  }, [of]);
  return <CurveChart words="Inductance against current, of each" {...chart} />;
}
