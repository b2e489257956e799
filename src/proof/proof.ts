import { equalInBad, holes, missingInBad, openEnds, overlaps, twins, unreachableBands } from './bands.js'
import { type Ignored, markIgnored, type ProofFinding } from './finding.js'
import { barePercents, hundredfold, readsAsLimit, typedLimits } from './limits.js'
import { byColorAlone, crowded, hiddenPlain, lowContrast, tooClose } from './look.js'
import { brandedBad, huesOfTwoMeanings, upsideDown } from './meaning.js'
import {
  countsForShares,
  disputes,
  mixedStatuses,
  paintsEverything,
  paintsNothing,
  rankedOutside,
  unreachableRules,
} from './reach.js'
import { againstSign, squeezed, unlikeTogether } from './scale.js'
import type { Subject } from './subject.js'

/** The checks of rules and their cells, in the order of the output. */
const CHECKS: readonly ((subject: Subject) => ProofFinding[])[] = [
  holes,
  openEnds,
  overlaps,
  unreachableBands,
  unreachableRules,
  paintsNothing,
  paintsEverything,
  twins,
  equalInBad,
  missingInBad,
  hundredfold,
  barePercents,
  countsForShares,
  rankedOutside,
  typedLimits,
  readsAsLimit,
  disputes,
  mixedStatuses,
  againstSign,
  squeezed,
  unlikeTogether,
  huesOfTwoMeanings,
  upsideDown,
  brandedBad,
  crowded,
  hiddenPlain,
  lowContrast,
  byColorAlone,
  tooClose,
]

/**
 * Finds everything wrong or risky in rules and their results; ignored findings are marked, not left
 * out.
 */
export function proofSubject(subject: Subject, ignored: readonly Ignored[] = []): ProofFinding[] {
  return markIgnored(
    CHECKS.flatMap((check) => check(subject)),
    ignored,
  )
}
