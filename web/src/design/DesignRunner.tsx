import type { Inventory, Stage } from '@yundro/core';
import { proxy } from 'comlink';
import { useEffect, useMemo } from 'react';
import type { NoDesign, ProposedDesign } from '../engine/designSurvey';
import { useSurvey } from '../engine/useSurvey';
import { useInventory } from '../library/useInventory';
import { useSession } from '../stage/stageSession';
import { answerDesign, askWanted, toDesign, useDesigning, type AskedDesign } from './designing';

/** Works the design that is asked for, in a worker that can be stopped. To be mounted once. */
export function DesignRunner() {
  const asked = useDesigning((state) => state.asked);
  const worked = useSession((session) => session.worked);
  const stale = useSession((session) => session.stale);
  useEffect(askWanted, [worked, stale]);
  return asked ? <Runner asked={asked} /> : null;
}

/** A stage with the frequency and the choke of a draft, where one is to be finished. */
function drafted(stage: Stage, { draft }: AskedDesign, { inductor }: Inventory): Stage {
  const choke = inductor.find(({ name }) => name === draft?.inductor);
  if (!draft || !choke) return stage;
  return { ...stage, switchingFrequency: draft.switchingFrequency, parts: { ...stage.parts, inductor: choke } };
}

function Runner({ asked }: { readonly asked: AskedDesign }) {
  const { inventory, fault } = useInventory();
  const question = useMemo(
    () =>
      inventory
        ? { asked, inventory, stage: drafted(toDesign(asked.of), asked, inventory), objective: asked.objective }
        : undefined,
    [asked, inventory],
  );
  const { answer, failure } = useSurvey<NonNullable<typeof question>, ProposedDesign | NoDesign>(
    question,
    (survey, of, alive) =>
      survey.designed(
        of.stage,
        of.inventory,
        of.objective,
        proxy((share: number, leading: string | undefined) => {
          alive();
          if (useDesigning.getState().asked === of.asked) useDesigning.setState({ share, leading });
        }),
      ),
  );
  const reason = fault === undefined ? failure?.sentence : `the library cannot be read: ${fault}`;
  useEffect(() => {
    if (answer?.question.asked === asked) answerDesign(asked, answer.value);
    else if (reason !== undefined) answerDesign(asked, { kind: 'none', reason });
  }, [answer, asked, reason]);
  return null;
}
