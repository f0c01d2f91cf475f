import type { ReactNode } from 'react';

/** A view of the station: it is put into its frame by what is given, the picture beside the fields and the rest across underneath. */
export interface Framed {
  readonly frame: (picture: ReactNode, below?: ReactNode) => ReactNode;
}
