import type { Sheet, Value } from './carried';

const quoted = (v: Value, mark: string): string => {
  // Ten digits: what comes after them is the machine's, not the figure's.
  const said = v === null ? '' : typeof v === 'number' ? `${Number(v.toPrecision(10))}` : v;
  return said.includes(mark) || /["\n\r]/.test(said) ? `"${said.replaceAll('"', '""')}"` : said;
};
const lines = (sheet: Sheet, mark: string): string =>
  [sheet.columns, ...sheet.rows].map((row) => row.map((v) => quoted(v, mark)).join(mark)).join('\r\n') +
  '\r\n';

/** RFC 4180. A text that a spreadsheet would take for a formula is led by an apostrophe. */
export const asCsv = (sheet: Sheet): string =>
  lines({ columns: sheet.columns, rows: sheet.rows.map((r) => r.map(guarded)) }, ',');

/** For the clipboard: a spreadsheet takes it cell by cell. */
export const asTabs = (sheet: Sheet): string =>
  lines({ columns: sheet.columns, rows: sheet.rows.map((r) => r.map(guarded)) }, '\t');

const guarded = (v: Value): Value => (typeof v === 'string' && /^[=+\-@\t]/.test(v) ? `'${v}` : v);

/** A name of a file that sorts, in letters every system takes. */
export const fileName = (name: string, day: string, end: string): string =>
  `${`${name} ${day}`.replaceAll(/[^\w.-]+/g, '_').replaceAll(/^_+|_+$/g, '')}.${end}`;

export function save(content: Blob, name: string): void {
  const link = document.createElement('a');
  link.href = URL.createObjectURL(content);
  link.download = name;
  link.click();
  URL.revokeObjectURL(link.href);
}

const STYLES = [
  'fill',
  'fill-opacity',
  'stroke',
  'stroke-width',
  'stroke-dasharray',
  'font-family',
  'font-size',
  'font-weight',
  'opacity',
  'text-anchor',
];

/** A drawing that stands by itself: styles written into it, its figures within as CSV. */
export function asSvg(drawing: SVGSVGElement, name: string, sheet: Sheet): string {
  const copy = drawing.cloneNode(true) as SVGSVGElement;
  const [from, to] = [
    [drawing, ...drawing.querySelectorAll('*')],
    [copy, ...copy.querySelectorAll('*')],
  ];
  from.forEach((node, n) => {
    const style = getComputedStyle(node);
    const target = to[n];
    for (const of of STYLES) {
      const value = style.getPropertyValue(of);
      if (value) target?.setAttribute(of, value);
    }
    for (const gone of ['class', 'tabindex', 'role', 'style']) target?.removeAttribute(gone);
  });
  const box = drawing.getBoundingClientRect();
  const [w, h] = [Math.ceil(box.width), Math.ceil(box.height)];
  if (!copy.hasAttribute('viewBox')) copy.setAttribute('viewBox', `0 0 ${w} ${h}`);
  copy.setAttribute('width', `${w}`);
  copy.setAttribute('height', `${h}`);
  const paper = document.createElementNS('http://www.w3.org/2000/svg', 'rect');
  paper.setAttribute('width', '100%');
  paper.setAttribute('height', '100%');
  paper.setAttribute('fill', getComputedStyle(document.body).backgroundColor);
  const title = document.createElementNS('http://www.w3.org/2000/svg', 'title');
  title.textContent = name;
  const data = document.createElementNS('http://www.w3.org/2000/svg', 'metadata');
  data.textContent = asCsv(sheet);
  copy.prepend(title, data, paper);
  return new XMLSerializer().serializeToString(copy);
}

/** The same as a picture, twice as fine as the screen. */
export async function asPng(svg: string): Promise<Blob> {
  const picture = new Image();
  picture.src = `data:image/svg+xml;charset=utf-8,${encodeURIComponent(svg)}`;
  await picture.decode();
  const canvas = document.createElement('canvas');
  canvas.width = picture.width * 2;
  canvas.height = picture.height * 2;
  canvas.getContext('2d')?.drawImage(picture, 0, 0, canvas.width, canvas.height);
  return new Promise((keep, refuse) =>
    canvas.toBlob((made) => {
      if (made) keep(made);
      else refuse(new Error('the picture is too large to be drawn'));
    }, 'image/png'),
  );
}
