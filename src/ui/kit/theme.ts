/** Ink on paper. All contrasts are WCAG 2.2 AA on the grounds they are used on. */
export const colour = {
  ground: '#f1f2ec',
  groundDeep: '#e7e8e0',
  paper: '#ffffff',
  rule: '#d8d9d0',
  ruleStrong: '#b4b6aa',
  ink: '#1d1a26',
  inkSoft: '#575564',
  violet: '#5736a3',
  violetDeep: '#2c1f63',
  violetWash: '#ebe6f6',
  ready: '#1c7560',
  look: '#875407',
  lookWash: '#f7ead0',
  out: '#6f6f76',
  failed: '#a8324a',
} as const;

export const font = {
  title: "'Bricolage Grotesque', 'Scripts', sans-serif",
  text: "'Atkinson Hyperlegible Next', 'Scripts', sans-serif",
  code: "'Atkinson Hyperlegible Mono', 'Scripts', monospace",
} as const;

/** Height of a ledger row and widths of what does not stretch, in px. */
export const row = 36;
export const spineWidth = 284;
