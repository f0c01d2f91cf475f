import { useQuery } from '@tanstack/react-query';
import { TOPOLOGY_NAMES, type StageRow, type TopologyName } from '@yundro/core';

type Facts = NonNullable<StageRow['facts']>;
type Form = Pick<Facts, 'topology' | 'rectifier'>;

const isTopology = (name: string): name is TopologyName => TOPOLOGY_NAMES.some((one) => one === name);
const idOf = ({ topology, rectifier }: Form): string => `form-${topology}-${rectifier}`;

/** The drawings that the rows of a shelf refer to: each form once, however many stages have it. */
export function MiniatureSheet({ rows }: { readonly rows: readonly StageRow[] }) {
  const forms = [...new Map(rows.flatMap(({ facts }) => (facts ? [[idOf(facts), facts] as const] : []))).values()];
  const drawn = useQuery({
    queryKey: ['miniatures', forms.map(idOf)],
    staleTime: Infinity,
    // The drawings come in a part of their own, after the shelf stands.
    queryFn: async () => {
      const { strokesOf } = await import('./strokes');
      return forms.flatMap((form) =>
        isTopology(form.topology)
          ? [
              {
                id: idOf(form),
                ...strokesOf(form.topology, form.rectifier === 'diode' ? 'diode' : 'synchronous'),
              },
            ]
          : [],
      );
    },
  }).data;
  return (
    <svg width="0" height="0" className="position-absolute" aria-hidden="true">
      {drawn?.map(({ id, viewBox, path }) => (
        <symbol key={id} id={id} viewBox={viewBox}>
          <path d={path} />
        </symbol>
      ))}
    </svg>
  );
}

/** What the stage looks like, in strokes: the topology drawn from its own circuit, without values. */
export const Miniature = (form: Form) => (
  <svg className="miniature" aria-hidden="true">
    <use href={`#${idOf(form)}`} />
  </svg>
);
