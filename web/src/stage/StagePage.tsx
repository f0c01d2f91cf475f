import { lazy, Suspense, useEffect, useRef } from 'react';
import { Button } from 'react-bootstrap';
import { Link, NavLink, Outlet, useLocation, useParams } from 'react-router';
import { useStore } from 'zustand';
import { downloadStage } from '../shelf/stageFiles';
import { Icon } from '../shown/Icon';
import { StationBoundary } from '../shown/StationBoundary';
import { TopBar } from '../shown/TopBar';
import { holdPresent, letAllGo, useAllHeld } from './ghost';
import { DesignRunner } from '../design/DesignRunner';
import { forgetDesign } from '../design/designing';
import { FindOrDo } from '../desk/FindOrDo';
import { useStageKeys } from '../desk/useStageKeys';
import { CornerGrid } from '../ledger/CornerGrid';
import { Ledger } from '../ledger/Ledger';
import { StationMark } from '../ledger/StationMark';
import { VerdictSources } from '../ledger/VerdictSources';
import { LoadNotice } from './LoadNotice';
import { SaveNotice } from './SaveNotice';
import { SaveStateMark } from './SaveStateMark';
import { redo, undo } from './editing';
import { openStage, retryOpen } from './opening';
import { useHistory, useSession } from './stageSession';
import { useLayout } from './stageView';
import { standsInRail, STATIONS } from './stations';

/** Loaded when a number is first opened. */
const WorkingPanel = lazy(async () => ({ default: (await import('./WorkingPanel')).WorkingPanel }));

/** Pause before a stage that could not be opened is asked for again, ms. */
const RETRY_DELAY = 2000;

/** Whether a key acts on the text one is in rather than on the design: a search, a name, a number tried out beside it. */
const isScratch = (target: EventTarget | null): boolean =>
  target instanceof HTMLElement &&
  target.matches('input:not([type=range], [type=checkbox]), textarea') &&
  target.dataset['design'] === undefined;

function useHistoryKeys(): void {
  useEffect(() => {
    const onKey = (event: KeyboardEvent): void => {
      if (!(event.ctrlKey || event.metaKey) || isScratch(event.target)) return;
      const key = event.key.toLowerCase();
      if (key !== 'z' && key !== 'y') return;
      event.preventDefault();
      if (key === 'y' || event.shiftKey) redo();
      else undo();
    };
    window.addEventListener('keydown', onKey);
    return () => window.removeEventListener('keydown', onKey);
  }, []);
}

/** One stage: rail of stations, the station, and the ledger. */
export function StagePage() {
  const { id = '' } = useParams();
  const stage = useSession((session) => session.document);
  const project = useSession((session) => session.record?.projectName);
  const projectId = useSession((session) => session.record?.projectId);
  const loadFault = useSession((session) => session.loadFault);
  const folded = useLayout((layout) => layout.folded);
  const working = useLayout((layout) => layout.working);
  const past = useStore(useHistory, (history) => history.pastStates.length);
  const future = useStore(useHistory, (history) => history.futureStates.length);
  const { pathname } = useLocation();
  const main = useRef<HTMLElement>(null);
  useHistoryKeys();
  useStageKeys(id);
  const opened = stage !== undefined;
  useEffect(() => {
    // The work goes on in the station, not in the link that led here.
    if (opened) main.current?.focus({ preventScroll: true });
  }, [opened, id]);
  useEffect(() => void openStage(id), [id]);
  useEffect(() => {
    if (loadFault?.kind !== 'unreachable') return;
    const timer = setTimeout(() => void retryOpen(id), RETRY_DELAY);
    return () => clearTimeout(timer);
  }, [loadFault, id]);
  const held = useAllHeld().length;
  useEffect(() => {
    // What is held belongs to the stage that was open.
    return () => {
      void letAllGo();
      forgetDesign();
    };
  }, [id]);
  useEffect(() => {
    document.title = stage ? `${stage.name} · Yundro` : 'Yundro';
    return () => {
      document.title = 'Yundro';
    };
  }, [stage]);

  return (
    <div className="frame whole">
      <a className="visually-hidden-focusable" href="#station">
        Skip to the station
      </a>
      <TopBar>
        <span className="crumb">{projectId !== undefined && <Link to={`/projects/${projectId}`}>{project}</Link>}</span>
        <strong>{stage?.name}</strong>
        <SaveStateMark />
        <span className="push" />
        <Button variant="plain" aria-disabled={past === 0} onClick={undo}>
          <Icon shape="undo" /> Undo
        </Button>
        <Button variant="plain" aria-disabled={future === 0} onClick={redo}>
          <Icon shape="redo" /> Redo
        </Button>
        <Button
          variant="plain"
          disabled={!stage}
          title="Keep the present design beside the next ones, number by number and trace by trace"
          onClick={() => void holdPresent()}
        >
          Hold this design
        </Button>
        {held > 0 && <Link to={`/stages/${id}/compare`}>Compare, {held} held</Link>}
        <Button variant="plain" disabled={!stage} onClick={() => stage && downloadStage(stage)}>
          Export
        </Button>
        <FindOrDo />
      </TopBar>
      <SaveNotice />
      <LoadNotice id={id} />
      {!stage && loadFault === undefined && <p className="quiet p-3">Opening the stage …</p>}
      {stage && (
        <div className={`desk ${folded ? 'folded' : ''}`}>
          <nav className="rail" aria-label="Stations">
            {STATIONS.filter(({ to }) => standsInRail(to, stage.phases, pathname)).map(({ to, words }) => (
              <NavLink key={to} to={to}>
                <span>{words}</span>
                {to !== 'overview' && <StationMark station={to} />}
              </NavLink>
            ))}
            <CornerGrid />
          </nav>
          <main className="station" id="station" ref={main} tabIndex={-1}>
            <StationBoundary what="station" resetKey={pathname}>
              <Outlet />
            </StationBoundary>
          </main>
          <VerdictSources />
          <DesignRunner />
          <Ledger />
        </div>
      )}
      {working !== undefined && (
        <StationBoundary what="working" resetKey={pathname}>
          <Suspense fallback={null}>
            <WorkingPanel />
          </Suspense>
        </StationBoundary>
      )}
    </div>
  );
}
