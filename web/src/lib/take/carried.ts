export type Value = string | number | null;

/** Figures as they leave: one row each, under their heads. */
export interface Sheet {
  columns: string[];
  rows: Value[][];
}

/** What a part of a page hands over: its name, its figures, and the drawing of them where there is one. */
export interface Carried {
  name: string;
  sheet: () => Sheet;
  drawing: SVGSVGElement | null;
}

const given = new Map<Element, () => { name: string } & Sheet>();

/** A chart, or rows that are no table: it says what figures it shows, and they can be taken along. */
export function carries(data: () => { name: string } & Sheet) {
  return (node: Element) => {
    given.set(node, data);
    return () => given.delete(node);
  };
}

const words = (node: Element | null): string => node?.textContent.replaceAll(/[ \t\r\n]+/g, ' ').trim() ?? '';

/** The figures of a table as it stands on the page; what is only pressed is left out. */
export function sheetOf(table: HTMLTableElement): Sheet {
  const cell = (c: HTMLTableCellElement): string => {
    const copy = c.cloneNode(true) as HTMLElement;
    copy.querySelectorAll('button, input, select, svg').forEach((e) => {
      const value = e instanceof HTMLInputElement || e instanceof HTMLSelectElement ? e.value : '';
      e.replaceWith(value);
    });
    return words(copy);
  };
  const rows = [...table.rows].map((r) => [...r.cells].map(cell));
  const width = Math.max(0, ...rows.map((r) => r.length));
  const full = rows.map((r) => [...r, ...Array<string>(width - r.length).fill('')]);
  return { columns: full[0] ?? [], rows: full.slice(1).map((r) => r.map(asNumber)) };
}

/** A figure as people read it (`1 250`, `−3`) as the number it is; everything else as it stands. */
export function asNumber(said: string): Value {
  const bare = said.replaceAll(/[\u202f\u00a0]/g, '').replace('−', '-');
  return /^-?\d+(\.\d+)?$/.test(bare) && !/^0\d/.test(bare) ? Number(bare) : said;
}

/** The name over a part of a page. */
function nameOf(node: Element): string {
  const section = node.closest('section, form, details, main');
  return (
    node.getAttribute('aria-label') ??
    (words(node.querySelector('caption')) ||
      words(section?.querySelector('h2, h3, summary') ?? null) ||
      words(document.querySelector('main h1')))
  );
}

/** Every table and chart of the page, top to bottom. */
export function carried(page: ParentNode | null = document.querySelector('.place')): Carried[] {
  const parts = [...(page?.querySelectorAll('table, [data-carries]') ?? [])];
  return parts.flatMap((node): Carried[] => {
    const own = given.get(node);
    if (own) {
      const drawing = node instanceof SVGSVGElement ? node : node.querySelector('svg');
      return [
        { name: own().name, sheet: () => own(), drawing: node.hasAttribute('data-undrawn') ? null : drawing },
      ];
    }
    if (!(node instanceof HTMLTableElement) || node.rows.length < 2) return [];
    return [{ name: nameOf(node), sheet: () => sheetOf(node), drawing: null }];
  });
}
