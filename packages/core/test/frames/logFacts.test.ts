// Lines as logs of several kinds have them (invented; common practice, no source). Units: IEC 80000-13 for Ki, Mi, Gi.
import { expect } from 'chai';
import { InputError } from '@dusting/core/formats';
import { gradeLines, LOG_PATTERNS, readLogFacts, readLogLines, readLogTimes } from '@dusting/core/frames';

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

describe('time stamps of a log', () => {
  const times = (text: string, more: typeof LOG_PATTERNS = []) => readLogTimes(readLogLines(text), [...more, ...LOG_PATTERNS]); // prettier-ignore

  it('tell how long it ran, and what took longest', () => {
    const log = `[00:00:01.5] reading the scene
00:00:03.5 building the hierarchy
a line without
00:00:33.5 rendering
00:01:33.5 writing comb.exr`;
    const { span, steps } = times(log)!;
    expect(span).to.equal(92);
    expect(steps.map((s) => s.seconds)).to.deep.equal([60, 30, 2]);
    expect(steps[1].after).to.contain('building the hierarchy');
  });

  it('go past midnight, with a date before them or not; threads may overtake each other', () => {
    expect(times('2026-11-05 23:59:50 a\n2026-11-06 00:00:10 b')!.span).to.equal(20);
    expect(times('12.5s a\n11 s b\n14s c')!.span).to.equal(1.5);
    expect(times('00:10 a\n00:09 b\n00:12 c')!.span).to.equal(2);
  });

  it('are none where fewer than two lines have one; patterns of the house go first', () => {
    expect(times('one 1:02\ntwo')).to.equal(null);
    expect(times('')).to.equal(null);
    const own = { fact: 'stamp' as const, expression: 'after ([\\d.]+ s)$' };
    expect(times('00:10 a after 3 s\n00:20 b after 8 s', [own])!.span).to.equal(5);
  });
});

describe('how grave a line is', () => {
  const lines = readLogLines('the smoker is out\nERROR: queen not found\nplain');
  it('is said by patterns of the house; the last that fits counts, the others leave it', () => {
    const graded = gradeLines(lines, [{ fact: 'error', expression: 'smoker' }, { fact: 'note', expression: 'queen' }, { fact: 'warning', expression: 'SMOKER is' }]); // prettier-ignore
    expect(graded.map((l) => l.level)).to.deep.equal(['warning', 'note', 'note']);
    expect(graded[0].text).to.equal(lines[0].text);
    expect(gradeLines(lines, LOG_PATTERNS)).to.equal(lines);
  });
});
