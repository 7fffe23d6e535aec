import { describe, expect, test } from 'vitest';
import { demoModel, DEVICES } from '../../demo/models.ts';
import { tinyDevice } from '../../demo/tiny.ts';
import { areaOf, boundsOf, regionOf, type Anatomy } from '../anatomy/index.ts';
import { applied, differences } from '../draft/index.ts';
import { drawSvg, readSvg } from './index.ts';

function changesOf(before: Anatomy, svg: string): string[] {
  const reading = readSvg(before, svg);
  if (!reading.ok) throw new Error(JSON.stringify(reading.faults));
  return differences(before, applied(before, reading.value.edit)).map((d) => d.text);
}

describe('the layered drawing', () => {
  test.each(DEVICES)('%s out and in again is as it was', (device) => {
    const { anatomy } = demoModel(device);
    const reading = readSvg(anatomy, drawSvg(anatomy));
    expect(reading).toMatchObject({ ok: true, value: { edit: { changes: [] }, strangers: [], missing: [] } });
  });
  test('it is at 1:1, each item in a group of its own id', () => {
    const svg = drawSvg(tinyDevice());
    expect(svg).toContain('width="40mm" height="80mm" viewBox="0 0 40 80"');
    expect(svg).toContain('<g id="battery"><title>battery</title><rect x="2" y="30" width="14" height="46"');
  });

  const device = tinyDevice((a) => {
    a.parts[3]!.outline = { rect: [4, 4, 10, 10], radius: 2 };
    a.bonds = [
      {
        id: 'pad',
        kind: 'tape',
        joins: ['battery', 'frame'],
        at: { area: { rect: [3, 32, 12, 40] } },
        tabs: [],
        softensAt: null,
        solvent: false,
        fate: 'renew',
        face: null,
        layer: null,
        flex: null,
        staysOn: null,
      },
    ];
    a.connectors[1]!.route = {
      line: [
        [22, 10],
        [14, 9],
        [9, 9],
      ],
      width: 2,
    };
  });
  const svg = drawSvg(device);
  test.each<[string, (svg: string) => string, string[]]>([
    [
      'a part moved by its group',
      (s) => s.replace('<g id="camera">', '<g id="camera" transform="translate(1.5 -0.25)">'),
      ['camera: outline 10 × 10 mm at 4, 4, radius 2 → 10 × 10 mm at 5.5, 3.75, radius 2'],
    ],
    [
      'a rectangle made a path with curved corners, and moved',
      (s) =>
        s.replace(
          /<rect x="4" y="4" width="10" height="10" rx="2"[^>]*>/,
          '<path d="m 7,4 h 6 c 1.1,0 2,0.9 2,2 v 6 c 0,1.1 -0.9,2 -2,2 h -6 c -1.1,0 -2,-0.9 -2,-2 v -6 c 0,-1.1 0.9,-2 2,-2 z"/>',
        ),
      ['camera: outline 10 × 10 mm at 4, 4, radius 2 → 10 × 10 mm at 5, 4, radius 2'],
    ],
    [
      'another size',
      (s) => s.replace('<rect x="2" y="30" width="14" height="46"', '<rect x="2" y="30" width="15" height="44"'),
      ['battery: outline 14 × 46 mm at 2, 30 → 15 × 44 mm at 2, 30'],
    ],
    [
      'a screw',
      (s) => s.replace('<circle cx="3" cy="77"', '<circle cx="3.6" cy="76.5"'),
      ['c1: place 3, 77 → 3.6, 76.5 mm'],
    ],
    [
      'a way of a flex',
      (s) => s.replace('22,10 14,9 9,9', '22,10 12,9.5 9,9'),
      ['camera-flex: route line 3 entries, width 2 → line 3 entries, width 2'],
    ],
    ['a drawing in other units', (s) => s.replace('viewBox="0 0 40 80"', 'viewBox="0 0 40 80" x="0"'), []],
  ])('%s', (_, change, words) => expect(changesOf(device, change(svg))).toEqual(words));

  test('everything scaled to px by the program, the page in px: nothing changed', () => {
    const inPx = svg
      .replace('width="40mm" height="80mm" viewBox="0 0 40 80"', 'width="151.181" height="302.362"')
      .replace('<title>Bench Tiny</title>', '<g transform="scale(3.7795276)">')
      .replace('</svg>', '</g></svg>');
    expect(changesOf(device, inPx)).toEqual([]);
  });
  test('a turned rectangle is a polygon of the same area', () => {
    const turned = svg.replace('<g id="battery">', '<g id="battery" transform="rotate(10 9 53)">');
    const reading = readSvg(device, turned);
    const after = applied(device, reading.ok ? reading.value.edit : { changes: [] });
    const { outline } = after.parts.find((p) => p.id === 'battery')!;
    expect('polygon' in outline && outline.polygon).toHaveLength(4);
    expect(areaOf(regionOf(outline))).toBeCloseTo(14 * 46, 0);
    expect(boundsOf(outline)[2]).toBeGreaterThan(20);
  });
  test('what is no item is named, and what is missing stays', () => {
    const reading = readSvg(device, svg.replace('<g id="camera">', '<g id="note-of-mine">'));
    expect(reading).toMatchObject({ ok: true, value: { strangers: ['note-of-mine'], missing: ['camera'] } });
  });
});

describe('files made to hurt', () => {
  const device = tinyDevice();
  test.each([
    ['no XML', 'a photograph', /no drawing/],
    ['another document', '<html></html>', /begins with <html>/],
    [
      'a document type with entities',
      '<!DOCTYPE svg [<!ENTITY a "aaaa">]><svg xmlns="http://www.w3.org/2000/svg"/>',
      /document type/,
    ],
    ['an unfinished file', '<svg xmlns="http://www.w3.org/2000/svg"><g id="a">', /no drawing|unclosed/],
    [
      'groups without end',
      `<svg xmlns="http://www.w3.org/2000/svg">${'<g>'.repeat(500)}${'</g>'.repeat(500)}</svg>`,
      /deep/,
    ],
    ['very many elements', `<svg xmlns="http://www.w3.org/2000/svg">${'<g/>'.repeat(41_000)}</svg>`, /more than 40000/],
    [
      'a transform that is none',
      '<svg xmlns="http://www.w3.org/2000/svg"><g id="x" transform="warp(2)"/></svg>',
      /warp/,
    ],
    [
      'a path that breaks off',
      '<svg xmlns="http://www.w3.org/2000/svg"><g id="cover"><path d="M 1 2 L 3"/></g></svg>',
      /breaks off/,
    ],
  ])('%s is refused with what is wrong', (_, text, message) => {
    const reading = readSvg(device, text);
    expect(reading.ok).toBe(false);
    expect(reading.ok ? '' : reading.faults[0]!.message).toMatch(message);
  });
});
