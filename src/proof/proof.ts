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

/** What can be found of rules and the cells they paint, in the order in which it is told. */
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
 * Everything wrong or risky with rules and what they did to cells; what is to be ignored is marked,
 * not left out.
 */
export function proofSubject(subject: Subject, ignored: readonly Ignored[] = []): ProofFinding[] {
  return markIgnored(
    CHECKS.flatMap((check) => check(subject)),
    ignored,
  )
}
