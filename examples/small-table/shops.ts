/**
 * Shops of Brezal Nurseries, second quarter of 2025: a small table, as an app might have it at
 * hand.
 */
export const SHOPS = [
  { shop: 'Larkmoor', revenue: 47_881, margin: 0.423, growth: -0.021 },
  { shop: 'Saltmarsh', revenue: 68_988, margin: 0.42, growth: 0.034 },
  { shop: 'Quay Lane', revenue: 102_733, margin: 0.419, growth: 0.312 },
  { shop: 'Fennel Row', revenue: 53_888, margin: 0.429, growth: 0.004 },
  { shop: 'Tansy Green', revenue: 29_046, margin: 0.42, growth: -0.284 },
  { shop: 'Old Mill', revenue: 72_237, margin: 0.427, growth: 0.061 },
  { shop: 'Wren Hollow', revenue: 54_454, margin: 0.426, growth: 0.012 },
  { shop: 'Heatherby', revenue: 77_012, margin: 0.416, growth: 0.143 },
  { shop: 'Peña Alta', revenue: 48_305, margin: 0.419, growth: -0.037 },
]
