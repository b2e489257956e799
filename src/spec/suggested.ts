/** The pigments of the house. */
export type HousePigment = 'aqua' | 'straw' | 'coral' | 'indigo' | 'sky' | 'rose' | 'violet' | 'stone'

/** A pigment of the house, or one that the report names itself. */
export type PigmentName = HousePigment | (string & {})

/** A pigment, or any CSS colour. */
export type ColorName = HousePigment | (string & {})

/** The drawings of the house; of a family such as petals also a step: petals-2-of-5. */
export type HouseIcon =
  | 'tick'
  | 'dash'
  | 'cross'
  | 'up'
  | 'sideways'
  | 'down'
  | 'dot'
  | 'ring'
  | 'sprig'
  | 'drop'
  | 'bySign'
  | 'petals'
  | 'arrows'
  | 'stems'

/** A drawing of the house, or one that the report names itself. */
export type IconName = HouseIcon | (string & {})

/** A pigment: paper to it; or judged: bad to good by the direction of the measure. */
export type Ramp = HousePigment | 'badToGood' | (string & {})
