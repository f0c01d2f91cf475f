import { evaluateStage, type EvaluatedStage } from '../corners/evaluate.js';
import { good, type Result } from '../result.js';
import { LEAST_GAIN } from '../rules/rules.js';
import type { Pinnable, Stage } from '../stage/schema.js';
import { enlargedBy } from './ceramicBank.js';
import type { Choice } from './choice.js';
import { firstCut } from './firstCut.js';

/** A completed stage: what was chosen, why, and how it fares at every corner. @public */
export interface SizedStage extends EvaluatedStage {
  readonly choices: readonly Choice[];
}

/** Most rounds of enlarging capacitor banks while the engine still finds too much ripple. */
const MOST_ROUNDS = 8;

const BANKS = ['outputCapacitors', 'inputCapacitors'] as const;

/**
 * Complete a stage from its targets. What is pinned, or present when `keepPresent` is set, stays; the rest is chosen by the
 * first-cut rules, then checked with the engine, which enlarges the chosen capacitor banks until the ripple targets hold.
 *
 * @public
 */
export function sizeStage(
  stage: Stage,
  { keepPresent = true }: { readonly keepPresent?: boolean } = {},
): Result<SizedStage> {
  const keep = (place: Pinnable): boolean => keepPresent || stage.pinned.includes(place);
  const first = firstCut(stage, keep);
  let current = first.stage;
  let evaluated = evaluateStage(current);
  const choices = [...first.choices];
  const growing = [...BANKS].filter((bank) => choices.some(({ path }) => path.startsWith(`parts.${bank}`)));
  /** What each bank was, and by how much it fell short, before it was enlarged last. */
  const before = new Map<string, { readonly banks: Stage['parts']['inputCapacitors']; readonly factor: number }>();
  for (let round = 0; round < MOST_ROUNDS && evaluated.ok; round += 1) {
    const { verdicts } = evaluated.value.evaluation;
    const shortfalls = growing.flatMap((bank) => {
      const target = bank === 'outputCapacitors' ? 'outputRipple' : 'inputRipple';
      const verdict = verdicts.find((one) => one.target === target && !one.pass);
      return verdict?.worst == null ? [] : [{ bank, factor: verdict.worst / verdict.required }];
    });
    if (shortfalls.length === 0) break;
    const parts = { ...current.parts };
    for (const { bank, factor } of shortfalls) {
      const [chosen] = parts[bank] ?? [];
      if (!chosen) continue;
      const last = before.get(bank);
      if (last && factor > LEAST_GAIN * last.factor) {
        // More capacitance does not help, so something else makes the ripple: the bank is left as it was, to be judged.
        if (last.banks) parts[bank] = last.banks;
        growing.splice(growing.indexOf(bank), 1);
        continue;
      }
      before.set(bank, { banks: parts[bank], factor });
      const larger = enlargedBy(chosen, factor);
      parts[bank] = [larger];
      const at = choices.findIndex(({ path }) => path.startsWith(`parts.${bank}`));
      const choice = choices[at];
      if (choice) {
        choices[at] = {
          ...choice,
          value: larger.count,
          rule: choice.rule.replace(
            /( Enlarged.*)?$/,
            ' Enlarged after the engine found more ripple than the closed form.',
          ),
        };
      }
    }
    current = { ...current, parts };
    evaluated = evaluateStage(current);
  }
  return evaluated.ok ? good({ ...evaluated.value, choices }) : evaluated;
}
