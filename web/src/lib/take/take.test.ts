// @vitest-environment jsdom
import { beforeEach, describe, expect, it } from 'vitest';
import { asNumber, carried, carries, sheetOf } from './carried';
import { asCsv, asSvg, asTabs, fileName } from './forms';

beforeEach(() => {
  document.body.innerHTML = `<div class="place"><main><h1>Page</h1><section><h2>Charges</h2><table>
    <tr><th>Oil</th><th>L</th><th></th></tr>
    <tr><td>Ulfrin <b>HD</b></td><td>1\u202f250.5</td><td><button>Put right</button></td></tr>
    <tr><td>=1+1, "x"</td><td>−3</td></tr></table></section>
    <svg data-carries width="40" height="20"><rect width="4" height="5" class="a" /></svg></main></div>`;
});

describe('what leaves a page', () => {
  it('is every table by the name over it, without what is only pressed', () => {
    const [part] = carried();
    expect(part?.name).toBe('Charges');
    expect(part?.sheet()).toEqual({
      columns: ['Oil', 'L', ''],
      rows: [
        ['Ulfrin HD', 1250.5, ''],
        ['=1+1, "x"', -3, ''],
      ],
    });
  });

  it('is no formula to a spreadsheet, and splits where it should', () => {
    const sheet = sheetOf(document.querySelector('table') as HTMLTableElement);
    expect(asCsv(sheet)).toBe('Oil,L,\r\nUlfrin HD,1250.5,\r\n"\'=1+1, ""x""",-3,\r\n');
    expect(asTabs(sheet).split('\r\n')[1]).toBe('Ulfrin HD\t1250.5\t');
    expect(['007', '1 250', '12 h', '<1', ''].map(asNumber)).toEqual(['007', '1 250', '12 h', '<1', '']);
  });

  it('is a chart with its figures in it', () => {
    const svg = document.querySelector('svg') as SVGSVGElement;
    const gone = carries(() => ({
      name: 'Iron',
      columns: ['h', 'ppm'],
      rows: [
        [250, 14],
        [500, null],
      ],
    }))(svg);
    const part = carried().find((p) => p.name === 'Iron');
    expect(part?.drawing).toBe(svg);
    const drawn = asSvg(svg, 'Iron', part?.sheet() ?? { columns: [], rows: [] });
    const read = new DOMParser().parseFromString(drawn, 'image/svg+xml');
    expect(read.getElementsByTagName('metadata')[0]?.textContent).toBe('h,ppm\n250,14\n500,\n');
    expect(read.getElementsByTagName('title')[0]?.textContent).toBe('Iron');
    expect(drawn).not.toContain('class=');
    gone();
    expect(carried().some((p) => p.name === 'Iron')).toBe(false);
  });

  it('has a name that sorts', () => {
    expect(fileName('G-03, strips / read', '2026-11-27', 'csv')).toBe('G-03_strips_read_2026-11-27.csv');
  });
});
