import { applied, type AppliedForm } from '../firstcut/closedForm.js';
import { gappedInductance, pathLoss, surfaceRise, windingOhms } from './chokeForms.js';
import { resistivityAt } from './copper.js';
import { lossOfPath, type ChokeDemand, type WorkedChoke } from './figures.js';
import { fringingFactor } from './fringing.js';
import { pathState } from './magneticPath.js';
import { fluxPaths, type WoundChoke } from './woundChoke.js';

/**
 * How the figures of a choke came about, at its worst corner: the forms that they were worked by, with their numbers put in. Of several flux
 * paths each has its own lines.
 *
 * @public
 */
export function chokeWorking(choke: WoundChoke, worked: WorkedChoke, demand: ChokeDemand): readonly AppliedForm[] {
  const { worst, laid, surface } = worked;
  const corner = demand.corners.find(
    ({ inputVoltage, outputCurrent }) => inputVoltage === worst.inputVoltage && outputCurrent === worst.outputCurrent,
  );
  if (!corner) throw new RangeError('The choke was worked for another demand.');
  const { temperature } = worst;
  const paths = fluxPaths(choke).flatMap((path) => {
    const [high, low] = [worst.peak, worst.peak - worst.ripple].map(
      (current) => pathState(path, choke.turns * current, temperature).density,
    ) as [number, number];
    return [
      applied(gappedInductance, {
        turns: choke.turns,
        area: path.area,
        length: path.length,
        permeability: path.permeability,
        gap: path.gap,
        fringing: fringingFactor(path.fringing, path.gap / path.gaps, path.leg),
      }),
      applied(pathLoss, lossOfPath(path, corner, high, low, temperature)),
    ];
  });
  return [
    ...paths,
    applied(windingOhms, {
      resistivity: resistivityAt(temperature),
      length: laid.wireLength,
      area: laid.copperArea,
    }),
    applied(surfaceRise, { loss: worst.copper + worst.alternating + worst.core, surface }),
  ];
}
