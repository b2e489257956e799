/** How the report is looked at. */
export const VIEWS = ['as it is', 'protanopia', 'deuteranopia', 'tritanopia', 'grey', 'paper'] as const
export type ViewAs = (typeof VIEWS)[number]
