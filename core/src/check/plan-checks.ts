/** The checks that only a plan allows; none of them explores play. */
import { levelsOf } from '../document/types.ts';
import { atCells, faultsOf, mildFaults, tooClose } from '../plan/fits.ts';
import type { Flow } from '../play/flow.ts';
import type { Reason, Verdict } from '../report/report.ts';
import { counted } from '../words/words.ts';
import { plain } from './verdict.ts';

/** `plan-fits`: whether all that is drawn can be so. A gate that is a trapdoor works, and a point that is skipped does no harm, but rarely is either intended. */
export function plansFit({ document }: Flow): Verdict[] {
  return levelsOf(document).flatMap(([id, level]) => {
    if (!level.plan) return [];
    const faults = faultsOf(document, level);
    const why = faults.map(({ text, cells }): Reason => ({ text, ...(cells.length > 0 && { cells }) }));
    const onlyMild = faults.length > 0 && faults.every(({ is }) => mildFaults.includes(is));
    const failing =
      faults.length === 0
        ? undefined
        : faults.length === 1
          ? `${level.name}: ${faults[0]!.text}`
          : `The plan of ${level.name} has ${faults.length} faults. ${faults[0]!.text}`;
    return plain('plan-fits', id, failing, `All that is drawn in ${level.name} fits.`, {
      pointer: `/places/${id}/plan`,
      ...(failing && { why }),
      ...(onlyMild && { severity: 'warning' })
    });
  });
}

/** `too-close`: pieces side by side, where nearly all others of their kind keep apart. */
export function keptApart({ document }: Flow): Verdict[] {
  return levelsOf(document).flatMap(([id, level]) => {
    if (!level.plan) return [];
    const close = tooClose(level);
    return Object.entries(level.pieces).flatMap(([piece, { name }]) => {
      const cells = close.get(piece);
      if (!level.plan!.things || !Object.values(level.plan!.things).some((thing) => 'piece' in thing && thing.piece === piece))
        return [];
      return plain(
        'too-close',
        `${id}/${piece}`,
        cells && `${level.name}: ${counted(name, cells.length)} side by side ${atCells(cells)}; all others keep apart.`,
        `${name} is drawn as evenly as the others in ${level.name}.`,
        { pointer: `/places/${id}/pieces/${piece}`, ...(cells && { why: [{ text: `${name} ${atCells(cells)}`, cells }] }) }
      );
    });
  });
}
