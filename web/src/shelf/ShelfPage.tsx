import { ES1_LIMIT } from '@yundro/core';
import type { Project, StageRow } from '@yundro/core';
import { useMemo, useRef, useState, type DragEvent } from 'react';
import { Button } from 'react-bootstrap';
import { Link, useNavigate } from 'react-router';
import { designOnceOpen } from '../design/designing';
import { api } from '../api/client';
import { FindOrDo } from '../desk/FindOrDo';
import { download } from '../shown/download';
import { TopBar } from '../shown/TopBar';
import { MiniatureSheet } from './Miniature';
import { arranged, ORDERS, type Order } from './order';
import { chosenFrom, downloadStage, refusal, stageFromFile } from './stageFiles';
import { StageRows } from './StageRows';
import { useDialogs } from './useDialogs';
import { useShelf } from './useShelf';

interface Naming {
  readonly title: string;
  readonly initial: string;
  readonly use: (name: string) => Promise<unknown>;
}

/** The shelf: all projects with their stages. */
export function ShelfPage() {
  const { projects, fault, setFault, undoable, setUndoable, act } = useShelf();
  const [naming, setNaming] = useState<Naming>();
  const [starting, setStarting] = useState<Project>();
  const dialogs = useDialogs(naming !== undefined || starting !== undefined, setFault);
  const [find, setFind] = useState('');
  const [order, setOrder] = useState<Order>('made');
  const [folded, setFolded] = useState<ReadonlySet<string>>(new Set());
  const [dropping, setDropping] = useState(false);
  const chooser = useRef<HTMLInputElement>(null);
  const importInto = useRef<string>(undefined);
  const navigate = useNavigate();

  const take = async (files: readonly File[], projectId: string | undefined): Promise<void> => {
    const home = projectId ?? projects?.[0]?.id;
    const refusals: string[] = [];
    for (const file of files) {
      const read = await stageFromFile(file);
      if (!read.ok) refusals.push(refusal(file, read));
      else await act(async () => api.createStage(home ?? (await api.createProject('Imported')), read.value));
    }
    if (refusals.length > 0) setFault(refusals.join(' '));
  };

  const projectAt = (event: DragEvent): string | undefined =>
    event.target instanceof Element
      ? (event.target.closest<HTMLElement>('[data-project]')?.dataset['project'] ?? undefined)
      : undefined;

  const shown = useMemo(() => projects && arranged(projects, find, order), [projects, find, order]);
  const fold = (id: string): void => {
    const next = new Set(folded);
    if (!next.delete(id)) next.add(id);
    setFolded(next);
  };

  const rename = (row: StageRow): void =>
    setNaming({
      title: 'Name of the stage',
      initial: row.name,
      use: async (name) => {
        const record = await api.stage(row.id);
        await api.saveStage(row.id, record.revision, { ...record.document, name }, crypto.randomUUID());
      },
    });

  return (
    <div
      className="frame"
      onDragOver={(event) => {
        event.preventDefault();
        setDropping(true);
      }}
      onDragLeave={() => setDropping(false)}
      onDrop={(event) => {
        event.preventDefault();
        setDropping(false);
        void take([...event.dataTransfer.files], projectAt(event));
      }}
    >
      <TopBar>
        <span className="push" />
        <FindOrDo />
        <Link to="/library">Parts library</Link>
      </TopBar>
      {fault !== undefined && (
        <div className="notice bad" role="alert">
          {fault}
          <Button variant="plain" onClick={() => setFault(undefined)}>
            Dismiss
          </Button>
        </div>
      )}
      <main className={`shelf ${dropping ? 'dropping' : ''}`}>
        <div className="shelf-title">
          <h1>Shelf</h1>
          <label className="ms-auto small">
            Find{' '}
            <input
              type="search"
              className="pick"
              value={find}
              onChange={(event) => setFind(event.target.value)}
              placeholder="name, form, voltage"
            />
          </label>
          <label className="small">
            Order{' '}
            <select className="pick" value={order} onChange={(event) => setOrder(event.target.value as Order)}>
              {ORDERS.map((one) => (
                <option key={one.order} value={one.order}>
                  {one.words}
                </option>
              ))}
            </select>
          </label>
          <Button
            variant="outline-secondary"
            onClick={() =>
              setNaming({ title: 'Name of the new project', initial: '', use: (name) => api.createProject(name) })
            }
          >
            New project
          </Button>
        </div>
        {!projects && fault === undefined && <p className="quiet">Reading the shelf …</p>}
        {projects?.length === 0 && (
          <p className="quiet">The shelf is empty. Start a project, or drop a stage file anywhere on this page.</p>
        )}
        {projects && <MiniatureSheet rows={projects.flatMap(({ stages }) => stages)} />}
        {find !== '' && shown?.length === 0 && (
          <p className="quiet">No stage holds “{find}”; other words, or none, show more.</p>
        )}
        {shown?.map((project) => (
          <section key={project.id} data-project={project.id} aria-label={project.name}>
            <div className="shelf-title">
              <h2>
                <button
                  type="button"
                  className="fold"
                  aria-expanded={!folded.has(project.id)}
                  aria-label={`${folded.has(project.id) ? 'Unfold' : 'Fold'} ${project.name}`}
                  onClick={() => fold(project.id)}
                >
                  {folded.has(project.id) ? '▸' : '▾'}
                </button>{' '}
                <Link to={`/projects/${project.id}`}>{project.name}</Link>
              </h2>
              <span className="quiet small">
                {project.stages.length} {project.stages.length === 1 ? 'stage' : 'stages'}
              </span>
              <Button
                variant="plain"
                onClick={() =>
                  setNaming({
                    title: 'Name of the project',
                    initial: project.name,
                    use: (name) => api.renameProject(project.id, name),
                  })
                }
              >
                Rename project
              </Button>
              <Button variant="plain" onClick={() => void act(() => api.duplicateProject(project.id))}>
                Duplicate project
              </Button>
              <Button
                variant="plain"
                onClick={() =>
                  void act(() => api.deleteProject(project.id), {
                    words: `Project ${project.name} was deleted.`,
                    undo: () => api.restoreProject(project.id),
                  })
                }
              >
                Delete project
              </Button>
              <span className="ms-auto" />
              <Button
                variant="plain"
                onClick={() => {
                  importInto.current = project.id;
                  chooser.current?.click();
                }}
              >
                Import stage file
              </Button>
              <Button variant="outline-secondary" onClick={() => setStarting(project)}>
                New stage
              </Button>
            </div>
            {!folded.has(project.id) && (
              <StageRows
                rows={project.stages}
                onExport={(row) =>
                  void act(async () =>
                    row.facts
                      ? downloadStage((await api.stage(row.id)).document)
                      : download(`${row.name}.json`, 'application/json', await api.storedDocument(row.id)),
                  )
                }
                onRename={rename}
                onDuplicate={(row) => void act(() => api.duplicateStage(row.id))}
                onDelete={(row) =>
                  void act(() => api.deleteStage(row.id), {
                    words: `${row.name} was deleted.`,
                    undo: () => api.restoreStage(row.id),
                  })
                }
              />
            )}
          </section>
        ))}
        <p className="care quiet small">
          Yundro computes; it does not certify. Charged capacitors, hot parts, batteries that feed a short circuit and
          outputs above {ES1_LIMIT} V can hurt: follow your local codes and let licensed practice check what people will
          touch.
        </p>
      </main>
      <input
        ref={chooser}
        type="file"
        accept=".json,application/json"
        multiple
        hidden
        data-testid="stage-file"
        onChange={(event) => {
          void take([...(event.target.files ?? [])], importInto.current);
          event.target.value = '';
        }}
      />
      {naming && dialogs && (
        <dialogs.NameDialog
          title={naming.title}
          initial={naming.initial}
          onClose={() => setNaming(undefined)}
          onName={(name) => {
            setNaming(undefined);
            void act(() => naming.use(name));
          }}
        />
      )}
      {starting && dialogs && (
        <dialogs.NewStageDialog
          project={starting.name}
          onClose={() => setStarting(undefined)}
          onStart={(stage) => {
            const home = starting.id;
            setStarting(undefined);
            void act(async () => {
              const made = await api.createStage(home, await chosenFrom(stage));
              designOnceOpen(made.id);
              void navigate(`/stages/${made.id}/overview`);
            });
          }}
        />
      )}
      {undoable && (
        <div className="toast-line" role="status">
          {undoable.words}
          {/* What was deleted is gone from under the focus: it goes to the way back. */}
          <Button key={undoable.words} variant="plain" autoFocus onClick={() => void act(undoable.undo)}>
            Undo
          </Button>
          <Button variant="plain" onClick={() => setUndoable(undefined)}>
            Close
          </Button>
        </div>
      )}
    </div>
  );
}
