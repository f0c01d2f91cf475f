import { formatQuantity, type Figures } from '@yundro/core';
import { useMemo } from 'react';
import { Col, Row } from 'react-bootstrap';
import { CurveChart } from '../charts/CurveChart';
import type { Mark } from '../charts/curves';
import type { ProposedDesign } from '../engine/designSurvey';
import { askDesign } from './designing';

interface DraftMark extends Mark {
  /** The draft that is finished when it is picked; undefined for what is proposed. */
  readonly draft?: { readonly switchingFrequency: number; readonly inductor: string };
}

/** Room about the outermost points, as a factor. */
const ROOM = 1.25;
const NO_CURVES: readonly never[] = [];

/** An axis about values, each of which is worth what it is in proportion. */
const about = (values: readonly number[]) => ({
  min: Math.min(...values) / ROOM,
  max: Math.max(...values) * ROOM,
  logarithmic: true,
});

/** Loss against what a design takes, one picture for board and one for price: what is proposed filled, what misses a target small. */
export function DraftPicture({ of: { figures, drafts, stage } }: { readonly of: ProposedDesign }) {
  const pictures = useMemo(() => {
    const proposed = stage.switchingFrequency;
    const picture = (takes: (one: Figures) => number) => {
      const marks: readonly DraftMark[] = [
        ...drafts.map(({ switchingFrequency, inductor, figures: own, misses }) => ({
          x: takes(own),
          y: own.loss,
          here: false,
          small: misses.length > 0,
          // Those at the frequency of what is proposed lie about it.
          ...(switchingFrequency !== proposed && { label: formatQuantity(switchingFrequency, 'Hz', 3) }),
          draft: { switchingFrequency, inductor },
        })),
        {
          x: takes(figures),
          y: figures.loss,
          here: true,
          label: `proposed${proposed === undefined ? '' : `, ${formatQuantity(proposed, 'Hz', 3)}`}`,
        },
      ];
      const y = { words: 'lost at full load', unit: 'W' as const, ...about(marks.map((mark) => mark.y)) };
      return { marks, y, span: about(marks.map((mark) => mark.x)) };
    };
    const board = picture(({ area }) => 1e4 * area);
    const price = picture((one) => one.price);
    return [
      { ...board, words: 'Loss against board', x: 'board under the parts, cm²' },
      { ...price, words: 'Loss against price', x: 'price of the parts' },
    ].map(({ x, span, ...rest }) => ({
      ...rest,
      x: { words: x, unit: 'ratio' as const, ...span, label: (value: number) => String(Number(value.toPrecision(3))) },
    }));
  }, [figures, drafts, stage]);
  return (
    <>
      <Row className="two-charts mt-2">
        {pictures.map(({ words, x, y, marks }) => (
          <Col md={6} key={words}>
            <CurveChart
              words={words}
              x={x}
              y={y}
              curves={NO_CURVES}
              marks={marks}
              onPick={({ draft }: DraftMark) => draft && askDesign(false, draft)}
            />
          </Col>
        ))}
      </Row>
      <p className="small quiet mb-0">
        Filled: what is proposed, finished. The others are drafts, before loop and load step: finished, one takes more
        output capacitors where the step asks for them, and may miss it. A press on one finishes it; small ones miss a
        target already.
      </p>
    </>
  );
}
