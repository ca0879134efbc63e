// Lines as logs of several kinds have them (invented; common practice, no source). Units: IEC 80000-13 for Ki, Mi, Gi.
import { expect } from 'chai';
import { InputError } from '@dusting/core/formats';
import { LOG_PATTERNS, readLogFacts, readLogLines } from '@dusting/core/frames';

const facts = (text: string, more: typeof LOG_PATTERNS = []) => readLogFacts(readLogLines(text), [...LOG_PATTERNS, ...more]); // prettier-ignore

describe('facts of a log', () => {
  it('what the frame took, in any way of writing a time', () => {
    expect(facts('00:12 render time: 1:02:03.5').time).to.equal(3723.5);
    expect(facts('Total time 4 min 3.25 s').time).to.equal(243.25);
    expect(facts('frame 7 finished in 95.5s').time).to.equal(95.5);
    expect(facts('render time: 10s\nframe time: 12 sec').time, 'the largest').to.equal(12);
    expect(facts('sampling at shutter time').time).to.equal(null);
  });

  it('memory at most, in units of ten and of two', () => {
    expect(facts('Peak memory used: 1,536.5 MB').memory).to.equal(1536.5e6);
    expect(facts('mem peak 2GiB').memory).to.equal(2 ** 31);
    expect(facts('maximum resident memory 900 kB\npeak mem 3 MiB').memory).to.equal(3 * 2 ** 20);
  });

  it('files that were not found, each once', () => {
    const log = `WARNING could not open texture "tex/comb_wax.exr"
ERROR: unable to find 'hive.obj'
failed to load /shows/harvest/skep_v2.png
could not open texture "tex/comb_wax.exr"
opened tex/straw.exr`;
    expect(facts(log).missing).to.deep.equal(['tex/comb_wax.exr', 'hive.obj', '/shows/harvest/skep_v2.png']);
  });

  it('patterns of the house are taken, and wrong ones are named', () => {
    const own = { fact: 'time' as const, expression: 'bees home after ([\\d.]+ s)' };
    expect(facts('Bees home after 31 s').time).to.equal(null);
    expect(facts('Bees home after 31 s', [own]).time).to.equal(31);
    expect(() => facts('x', [{ fact: 'time', expression: 'a(' }])).to.throw(InputError, '“a(” is no pattern');
    expect(() => facts('x', [{ fact: 'time', expression: 'no group' }])).to.throw(InputError, 'needs a group');
  });
});
