// The rival's libraries come without types; only the bench uses them.
declare module 'd3-array'
declare module 'd3-color'
declare module 'd3-interpolate'
declare module 'd3-scale'
