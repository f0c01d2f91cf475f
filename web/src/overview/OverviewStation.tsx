import { topologyOf, formatQuantity, type Stage } from '@yundro/core';
import { SchematicDrawing } from '../charts/SchematicDrawing';
import { DesignNotice } from '../design/DesignNotice';
import { useWorked } from '../engine/useWorked';
import { Answered } from '../shown/Answered';
import { Cautions } from '../stage/Cautions';
import { elementValue } from '../stage/elementValue';
import { useSession } from '../stage/stageSession';
import { useLookedAt } from '../stage/useCorner';
import { showPicture } from '../stage/stageView';
import { useNavigate, useParams } from 'react-router';
import { DefiningNumbers } from './DefiningNumbers';
import { Doors } from './Doors';
import { NextStepCard } from './NextStepCard';
import { VerdictSentence } from './VerdictSentence';

/** What the stage is, in half a line. */
function inWords(stage: Stage): string {
  const { targets, phases, rectifier } = stage;
  const { min, max } = targets.inputVoltage;
  const form = `${rectifier === 'synchronous' ? 'synchronous ' : ''}${topologyOf(stage).words}`;
  const many = phases > 1 ? `${String(phases)} phases, ` : '';
  return `${many}${form} · ${String(min)} to ${formatQuantity(max, 'V', 3)} to ${formatQuantity(targets.outputVoltage, 'V', 3)}, ${formatQuantity(targets.outputCurrent.max, 'A', 3)}`;
}

/** The whole design at a glance: whether it holds, what would mend it, the drawing, its numbers, and a door to every station. */
export function OverviewStation() {
  const stage = useSession((session) => session.document);
  if (!stage) return null;
  return (
    <div className="overview">
      <header className="station-head">
        <h1>{stage.name}</h1>
        <span className="quiet">{inWords(stage)}</span>
      </header>
      <VerdictSentence />
      <NextStepCard />
      <DesignNotice />
      <section className="sheet-box" aria-label="Drawing and defining numbers">
        <Drawing />
        <DefiningNumbers />
      </section>
      <Doors />
      <Cautions />
    </div>
  );
}

/** An instant within the on-time: neither side of an edge. */
const INSTANT = 0.08;

/** The drawing with what flows at the corner looked at; a part opens the schematic of the Stage station. */
function Drawing() {
  const looked = useLookedAt();
  const { id = '' } = useParams();
  const navigate = useNavigate();
  const asked = useWorked(looked, (engine, question) => engine.schematic(question.work, question.corner, 0));
  return (
    <Answered of={asked} what="drawing" wait={<p className="quiet">The stage is being drawn …</p>}>
      {(drawn) =>
        drawn ? (
          <SchematicDrawing
            drawn={drawn}
            time={INSTANT * drawn.period}
            valueOf={elementValue}
            selected={undefined}
            onSelect={() => {
              showPicture('schematic');
              void navigate(`/stages/${id}/stage`);
            }}
          />
        ) : (
          <p className="quiet">The drawing appears when the stage has an operating point here.</p>
        )
      }
    </Answered>
  );
}
