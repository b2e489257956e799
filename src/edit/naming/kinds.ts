/** What has a name in a report, and can be renamed. */
export type NamedKind =
  | 'source'
  | 'field'
  | 'measure'
  | 'parameter'
  | 'status'
  | 'rule'
  | 'exhibit'
  | 'pigment'
  | 'icon'
