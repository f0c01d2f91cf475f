import type { ReactNode } from 'react';

interface Props {
  readonly title: string;
  /** What is looked at, in a few words beside the title. */
  readonly says?: ReactNode;
  /** What is chosen, compact: it acts on the picture and stands beside it. */
  readonly fields: ReactNode;
  /** Views of this station, of which one is the main picture. */
  readonly views?: ReactNode;
  readonly picture: ReactNode;
  /** Tables and studies, under it. */
  readonly children?: ReactNode;
}

/** Every station in one grammar: what is chosen on the left, the main picture large beside it, what is read off it underneath. */
export function Station({ title, says, fields, views, picture, children }: Props) {
  return (
    <>
      <header className="station-head">
        <h1>{title}</h1>
        {says !== undefined && <span className="quiet">{says}</span>}
      </header>
      {views}
      <div className="bench">
        <div className="chosen" data-station="fields">
          {fields}
        </div>
        <div className="picture" data-station="picture">
          {picture}
        </div>
      </div>
      {children}
    </>
  );
}
