// Evidence in words and as comma-separated values (RFC 4180), by hand; numbers with their units; what makes an answer old.
import { expect } from 'chai';
import {
  changedSince,
  stillShown,
  DIAGNOSES,
  evidenceCsv,
  evidenceText,
  formatEstimate,
  formatNumber,
  importFindings,
  renderName,
  type DiagnosisKey,
  type Evidence,
} from '@dusting/core/diagnose';

const shown = { id: 'a', title: 'A', source: 'measured: by hand' };
const axis = (label: string) => ({ label, unit: '' as const, scale: 'linear' as const });

describe('evidence', () => {
  const cases: [Evidence, string[], string | null][] = [
    [
      { ...shown, type: 'bars', unit: 'share', bars: [{ label: 'comb, old', value: 0.25 }] },
      ['comb, old: 25 %'],
      'label,share\r\n"comb, old",0.25\r\n',
    ],
    [
      { ...shown, type: 'curves', x: axis('depth'), y: axis('lost'), curves: [{ label: 'all', points: [[1, 0.5], [2, 0]] }], markers: [{ axis: 'x', value: 1, label: 'now' }] }, // prettier-ignore
      ['all (lost by depth): 1.00: 0.500, 2.00: 0', 'marked: now'],
      'curve,depth,lost\r\nall,1,0.5\r\nall,2,0\r\n',
    ],
    [
      { ...shown, type: 'histogram', x: { ...axis('noise'), unit: 'L*' }, counted: 'tiles', edges: [0, 1, 2], counts: [0, 3], markers: [] }, // prettier-ignore
      ['1.0 L* to 2.0 L*: 3 tiles'],
      'from,to,tiles\r\n0,1,0\r\n1,2,3\r\n',
    ],
    [
      { ...shown, type: 'map', unit: 'L*', region: { x: 10, y: 20, width: 16, height: 8 }, tile: 8, columns: 2, rows: 1, values: [1, 3], leading: [-1, 0], categories: [{ label: 'wax', colour: 'wax' }] }, // prettier-ignore
      ['2 x 1 tiles of 8 px, at most 3.0 L* at (18, 20)', 'wax leads in 100 % of them'],
      'x,y,L*,leading\r\n10,20,1,\r\n18,20,3,wax\r\n',
    ],
    [
      { ...shown, type: 'table', columns: ['light', 'share'], rows: [[{ type: 'link', text: 'lamp', to: { type: 'light', id: 'l', name: 'lamp' } }, { type: 'number', value: 0.5, unit: 'share' }]] }, // prettier-ignore
      ['light · share', 'lamp · 50 %'],
      'light,share\r\nlamp,0.5\r\n',
    ],
    [
      { ...shown, type: 'pixels', value: { label: 'luminance', unit: '' }, pixels: [{ x: 1, y: 2, value: 4, text: 'total' }] }, // prettier-ignore
      ['(1, 2): 4.00, total'],
      'x,y,luminance,\r\n1,2,4,total\r\n',
    ],
    [{ ...shown, type: 'pictures', pictures: [{ label: 'now', width: 2, height: 3, halves: '' }] }, ['now: 2 x 3 px'], null], // prettier-ignore
    [
      { ...shown, type: 'checklist', checks: [{ text: 'it holds', state: 'failed', about: [] }] },
      ['NO: it holds'],
      'check,state\r\nit holds,failed\r\n',
    ],
  ];
  for (const [evidence, words, csv] of cases)
    it(`${evidence.type} has words and numbers`, () => {
      expect(evidenceText(evidence)).to.deep.equal(words);
      expect(evidenceCsv(evidence)).to.equal(csv);
    });

  it('numbers carry their units, and a range says its unit once', () => {
    expect([formatNumber(0.034, 'share'), formatNumber(0.34, 'share'), formatNumber(150, 's'), formatNumber(1, 'EV')]).to.deep.equal(['3.4 %', '34 %', '2.5 min', '+1 EV']); // prettier-ignore
    expect(formatEstimate({ value: 2.9, low: 2.2, high: 5.9 }, 'L*')).to.equal('2.9 L* (2.2 to 5.9 L*)');
    expect(formatEstimate({ value: 2, low: 2, high: 2 }, 'L*')).to.equal('2.0 L*');
  });

  it('an answer is out of date by what its kind reads, and by nothing else', () => {
    const key: DiagnosisKey = { kind: 'noise', version: 1, proof: 1, region: { x: 0, y: 0, width: 1, height: 1 }, expected: null, noise: { limit: 1, stops: 1 }, revision: 1 }; // prettier-ignore
    const stricter = { ...key, noise: { limit: 0.5, stops: 1 } };
    expect(changedSince(key, key, DIAGNOSES.noise!)).to.deep.equal([]);
    expect(changedSince(key, stricter, DIAGNOSES.noise!)).to.deep.equal(['the noise limit was 1.0 L* and is 0.5 L*']);
    expect(changedSince(key, stricter, DIAGNOSES.other!)).to.deep.equal([]);
    expect(changedSince(key, { ...key, revision: 3 }, DIAGNOSES.other!)).to.deep.equal(['the shot was at revision 1 and is at 3']); // prettier-ignore
    expect(changedSince(key, { ...key, version: 2 }, DIAGNOSES.other!)).to.have.length(1);
    // evidence of another version may be of another shape
    const result = { summary: 's', evidence: [{ type: 'bars' }], causes: [{ id: 'a', evidence: ['bars'] }] } as never;
    expect(stillShown(result, key, key)).to.equal(result);
    expect(stillShown(result, key, { ...key, version: 2 })).to.deep.equal({
      summary: 's',
      evidence: [],
      causes: [{ id: 'a', evidence: [] }],
    });
  });

  it('what a file holds that is not rendered is a finding; renders are named by their purpose', () => {
    const [found] = importFindings([{ feature: 'fur', place: 'a.glb, skep', effect: 'left out' }]);
    expect(found).to.include({ severity: 'warning', text: 'fur (a.glb, skep): left out.' });
    expect(found.about).to.deep.equal([{ type: 'file', place: 'a.glb, skep' }]);
    expect(renderName({ kind: 'proof', number: 3, purpose: null })).to.equal('P3');
    expect(renderName({ kind: 'diagnostic', number: 2, purpose: 'pilot' })).to.equal('L2');
  });
});
