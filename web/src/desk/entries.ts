import { formatQuantity, verdictWord } from '@yundro/core';
import { downloadStage } from '../shelf/stageFiles';
import { chooseTheme, currentTheme } from '../shown/theme';
import type { Groups } from '../ledger/lines';
import type { CornerView } from '../engine/engine';
import { redo, undo } from '../stage/editing';
import { holdPresent } from '../stage/ghost';
import { sessionNow } from '../stage/stageSession';
import { lookAt, openWorking, showLoopPicture, showPicture, type LoopPicture, type Picture } from '../stage/stageView';
import { NUMBERED, picturedAt, STATIONS, type Station } from '../stage/stations';

/** Something that can be found and done by name. */
export interface Entry {
  readonly group: 'Stations' | 'Views' | 'Fields' | 'Targets' | 'Corners' | 'Actions' | 'Stages';
  readonly words: string;
  /** What it is at present, or its shortcut. */
  readonly aside?: string;
  readonly act: () => void;
}

/** The views of the stations, by the names they have there. */
const STAGE_VIEWS: readonly (readonly [Picture, string])[] = [
  ['waveforms', 'Waveforms'],
  ['schematic', 'Schematic'],
  ['conversion', 'Conversion ratio'],
  ['conduction', 'Conduction mode'],
  ['frequency', 'Frequency study'],
];
const LOOP_VIEWS: readonly (readonly [LoopPicture, string])[] = [
  ['gain', 'Gain and phase'],
  ['corners', 'Loop of all corners'],
  ['plane', 'Complex plane'],
  ['impedance', 'Output impedance'],
  ['others', 'Line and current'],
  ['step', 'Load step'],
  ['input', 'Input side'],
  ['spread', 'Loop over tolerance'],
];

/** Fields by their labels, where they stand. */
const FIELDS: readonly (readonly [Station, readonly string[]])[] = [
  [
    'targets',
    [
      'Lowest input voltage',
      'Highest',
      'Output voltage',
      'Full load current',
      'Lowest load current',
      'Inductor ripple ratio',
      'Output tolerance',
      'Junction at most',
      'Phase margin',
      'Gain margin',
    ],
  ],
  ['stage', ['Switching frequency', 'Dead time', 'Operating mode', 'Topology', 'Rectifier', 'Phases']],
  ['inductor', ['Inductance', 'Resistance', 'Saturation current', 'Heating current', 'Current limit, peak']],
  ['capacitors', ['Capacitance each', 'ESR each', 'In parallel']],
  ['loop', ['Scheme', 'Reference', 'Upper divider', 'Lower divider', 'Zero resistor', 'Zero capacitor']],
  ['transient', ['Step from', 'Step to', 'Slew rate', 'Soft start', 'Current limit', 'Maximum duty']],
];

/** Put the focus into a field as soon as its station is drawn. */
function focusField(label: string, tries = 20): void {
  const found = [...document.querySelectorAll<HTMLLabelElement>('.station label')].find(
    (one) => one.textContent === label,
  );
  const control = found?.control;
  if (control) control.focus();
  else if (tries > 0) setTimeout(() => focusField(label, tries - 1), 50);
}

interface Where {
  readonly id: string;
  readonly go: (address: string) => void;
  readonly groups: Groups;
  readonly corners: readonly CornerView[];
  readonly stages: readonly { readonly id: string; readonly name: string; readonly project: string }[];
}

/** All that can be found from where one is. */
export function entriesOf({ id, go, groups, corners, stages }: Where): readonly Entry[] {
  const station = (to: Station): void => go(`/stages/${id}/${to}`);
  const lines = [...groups.fails, ...groups.tight, ...groups.holds];
  const { document } = sessionNow();
  const ofStage: readonly Entry[] =
    id === ''
      ? []
      : [
          ...STATIONS.map(({ to, words }, k): Entry => ({
            group: 'Stations',
            words,
            aside: k < NUMBERED ? `Alt ${String(k + 1)}` : '',
            act: () => station(to),
          })),
          ...STAGE_VIEWS.map(([view, words]): Entry => ({
            group: 'Views',
            words,
            act: () => {
              showPicture(view);
              station('stage');
            },
          })),
          ...LOOP_VIEWS.map(([view, words]): Entry => ({
            group: 'Views',
            words,
            act: () => {
              showLoopPicture(view);
              station('loop');
            },
          })),
          ...FIELDS.flatMap(([to, labels]) =>
            labels.map((words): Entry => ({
              group: 'Fields',
              words,
              aside: STATIONS.find((one) => one.to === to)?.words ?? '',
              act: () => {
                station(to);
                focusField(words);
              },
            })),
          ),
          ...lines.map(({ verdict, station: to }): Entry => ({
            group: 'Targets',
            words: verdict.quantity,
            aside: verdictWord(verdict),
            act: () => {
              const place = corners.findIndex(
                (one) =>
                  one.inputVoltage === verdict.corner.inputVoltage &&
                  one.outputCurrent === verdict.corner.outputCurrent,
              );
              lookAt(Math.max(0, place));
              if (picturedAt(verdict.figure)) station(to);
              else openWorking({ corner: Math.max(0, place), figure: verdict.figure, target: verdict.target });
            },
          })),
          ...corners.map(({ inputVoltage, outputCurrent }, k): Entry => ({
            group: 'Corners',
            words: `Look at ${formatQuantity(inputVoltage, 'V', 3)}, ${formatQuantity(outputCurrent, 'A', 3)}`,
            act: () => lookAt(k),
          })),
          { group: 'Actions', words: 'Undo', aside: 'Ctrl Z', act: undo },
          { group: 'Actions', words: 'Redo', aside: 'Ctrl Shift Z', act: redo },
          { group: 'Actions', words: 'Hold this design', act: () => void holdPresent() },
          { group: 'Actions', words: 'Compare held designs', act: () => go(`/stages/${id}/compare`) },
          { group: 'Actions', words: 'Export the stage', act: () => document && downloadStage(document) },
        ];
  return [
    ...ofStage,
    {
      group: 'Actions',
      words: `Use the ${currentTheme() === 'light' ? 'dark' : 'light'} theme`,
      act: () => chooseTheme(currentTheme() === 'light' ? 'dark' : 'light'),
    },
    { group: 'Actions', words: 'Go to the shelf', act: () => go('/') },
    { group: 'Actions', words: 'Go to the parts library', act: () => go('/library') },
    ...stages.map(({ id: other, name, project }): Entry => ({
      group: 'Stages',
      words: name,
      aside: project,
      act: () => go(`/stages/${other}/overview`),
    })),
  ];
}
