import { useQuery } from '@tanstack/react-query';
import { TOPOLOGY_NAMES, type TopologyName } from '@yundro/core';

interface Props {
  readonly topology: string;
  readonly rectifier: string;
}

const isTopology = (name: string): name is TopologyName => TOPOLOGY_NAMES.some((one) => one === name);

/** What the stage looks like, in strokes: the topology drawn from its own circuit, without values. */
export function Miniature({ topology, rectifier }: Props) {
  const drawn = useQuery({
    queryKey: ['miniature', topology, rectifier],
    staleTime: Infinity,
    // The drawing comes in a part of its own, after the shelf stands.
    queryFn: async () => {
      const { strokesOf } = await import('./strokes');
      return isTopology(topology) ? strokesOf(topology, rectifier === 'diode' ? 'diode' : 'synchronous') : null;
    },
  }).data;
  if (!drawn) return <span className="miniature" />;
  return (
    <svg className="miniature" viewBox={drawn.viewBox} aria-hidden="true">
      <path d={drawn.path} />
    </svg>
  );
}
