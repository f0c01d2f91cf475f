import { useQuery } from '@tanstack/react-query';
import { Command } from 'cmdk';
import { useMemo } from 'react';
import { Modal } from 'react-bootstrap';
import { useNavigate } from 'react-router';
import { api } from '../api/client';
import { useLedger } from '../ledger/judgements';
import { useSession } from '../stage/stageSession';
import { entriesOf, type Entry } from './entries';

const GROUPS: readonly Entry['group'][] = ['Stations', 'Views', 'Fields', 'Targets', 'Corners', 'Actions', 'Stages'];
const NONE: readonly never[] = [];

/** Whether an entry holds every word that was typed, anywhere in it. */
const holdsEveryWord = (value: string, typed: string): number => {
  const text = value.toLowerCase();
  return typed
    .toLowerCase()
    .split(/\s+/)
    .every((word) => text.includes(word))
    ? 1
    : 0;
};

/** Everything by name: stations, views, fields, targets, corners, actions, stages. */
export function Palette({ onClose }: { readonly onClose: () => void }) {
  const navigate = useNavigate();
  const id = useSession((session) => (session.document ? session.id : undefined)) ?? '';
  const corners = useSession((session) => session.worked?.corners) ?? NONE;
  const groups = useLedger();
  const shelf = useQuery({ queryKey: ['shelf'], queryFn: api.shelf }).data;
  const onStage = window.location.pathname.startsWith('/stages/');
  const entries = useMemo(
    () =>
      entriesOf({
        id: onStage ? id : '',
        go: (address) => void navigate(address),
        groups,
        corners,
        stages: (shelf ?? []).flatMap((project) =>
          project.stages.map(({ id: stage, name }) => ({ id: stage, name, project: project.name })),
        ),
      }),
    [onStage, id, navigate, groups, corners, shelf],
  );
  return (
    <Modal show onHide={onClose} className="palette" aria-label="Find or do" restoreFocus>
      <Command label="Find or do" loop filter={holdsEveryWord}>
        <Command.Input autoFocus placeholder="a station, a field, a target, a corner, a stage, an action" />
        <Command.List>
          <Command.Empty>Nothing here has such a name.</Command.Empty>
          {GROUPS.map((group) => (
            <Command.Group key={group} heading={group}>
              {entries
                .filter((one) => one.group === group)
                .map(({ words, aside, act }, k) => (
                  <Command.Item
                    key={`${words} ${String(k)}`}
                    value={`${group} ${words} ${aside ?? ''} ${String(k)}`}
                    onSelect={() => {
                      onClose();
                      // After the list has given the focus back: what is done may move it on.
                      setTimeout(act, 0);
                    }}
                  >
                    <span>{words}</span>
                    {aside !== undefined && <span className="quiet small">{aside}</span>}
                  </Command.Item>
                ))}
            </Command.Group>
          ))}
        </Command.List>
      </Command>
    </Modal>
  );
}
