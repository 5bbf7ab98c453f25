import escapeHtml from 'escape-html';

/** How a page with a table looks, on screen and on paper; it needs nothing beside it. */
const STYLE = `body{font:14px/1.45 system-ui,sans-serif;margin:2rem;color:#1c1c1c;background:#fff}
table{border-collapse:collapse;width:100%}td,th{padding:.4rem .6rem;border-bottom:1px solid #ccc;text-align:left;vertical-align:top}
img{display:block}.t{font-family:ui-monospace,monospace;white-space:nowrap}.q{color:#555}
@media print{tr{break-inside:avoid}body{margin:0}}`;

/** The beginning of a page under its title; what it shows follows, as HTML, then `SHEET_END`. `style`: rules of its own. */
export const sheetBegin = (title: string, style = ''): string => `<!doctype html>
<html lang="en"><head><meta charset="utf-8"><title>${escapeHtml(title)}</title><style>${STYLE}${style}</style></head>
<body><h1>${escapeHtml(title)}</h1>
`;
export const SHEET_END = '</body></html>\n';

/** A table's beginning with its headings; rows follow, then `TABLE_END`. */
export const tableBegin = (headings: readonly string[]): string =>
  `<table><thead><tr>${headings.map((h) => `<th scope="col">${escapeHtml(h)}</th>`).join('')}</tr></thead><tbody>\n`;
export const TABLE_END = '</tbody></table>\n';
