import { loopKey, type Stage, type WorstLoop } from '@yundro/core';
import { useState } from 'react';
import { Button } from 'react-bootstrap';
import { useSurvey } from '../engine/useSurvey';
import { Failed } from '../shown/Answered';
import { download } from '../shown/download';
import { useWorkedStage } from '../stage/useCorner';

interface Wanted {
  readonly stage: Stage;
  readonly key: string;
  readonly inductance: number;
}

/** The edge of a hot loop with its parasitics as a netlist, a file for a general SPICE engine. */
export function EdgeNetlist({
  loop,
  inductance,
  stale,
}: {
  readonly loop: WorstLoop;
  readonly inductance: number;
  /** Whether the loop is of an earlier edit. */
  readonly stale: boolean;
}) {
  const worked = useWorkedStage();
  const [wanted, setWanted] = useState<Wanted>();
  const [refused, setRefused] = useState<string>();
  const writing = useSurvey<Wanted, undefined>(wanted, async (survey, { stage, key, inductance: of }) => {
    const found = await survey.edgeNetlist(stage, key, of);
    if (typeof found === 'string') setRefused(found);
    else download(`${stage.name}, edge.cir`, 'text/plain', found.text);
    setWanted(undefined);
    return undefined;
  });
  if (writing.failure) return <Failed what="netlist" sentence={writing.failure.sentence} retry={writing.retry} />;
  return (
    <>
      <Button
        variant="plain"
        disabled={!worked || stale || wanted !== undefined}
        title="One edge of this loop with the inductance it has here, for a general SPICE engine"
        onClick={() => {
          setRefused(undefined);
          if (worked) setWanted({ stage: worked.stage, key: loopKey(loop), inductance });
        }}
      >
        Netlist of its edge
      </Button>
      {refused !== undefined && <span className="small"> There is no netlist: {refused}.</span>}
    </>
  );
}
