// Own rule: lines that differ in numbers, files, names and times alone are one message.
import { expect } from 'chai';
import { severeCount, groupLog, logKey, readLogLines } from '@dusting/core/frames';

const LOG = `00:00:01 info: reading comb.exr, 12.4 MB
00:00:02 warning: texture "wood/larch.png" is 8192 px wide, read at 4096
00:00:02 warning: texture "wood/skep.png" is 4096 px wide, read at 2048
00:00:07 error: cannot open /scenes/late harvest/lid.png
00:00:09 warning: 3 samples were not a number
00:01:09 info: reading sill.exr, 1.5e3 MB`;

describe('a log in groups', () => {
  const lines = readLogLines(LOG);
  it('lines that say the same are one message with their number, the gravest first', () => {
    const groups = groupLog(lines, []);
    expect(groups.map((g) => [g.level, g.count])).to.deep.equal([['error', 1], ['warning', 2], ['warning', 1], ['note', 2]]); // prettier-ignore
    expect(groups[1].text).to.contain('larch.png');
    expect(severeCount(groups)).to.deep.equal({ errors: 1, warnings: 3 });
  });
  it('what was said to be harmless is out of the count, and stands last', () => {
    const key = logKey(lines[1]);
    expect(logKey(lines[2]), 'the other texture too').to.equal(key);
    const groups = groupLog(lines, [{ key, reason: 'seen from afar' }]);
    expect(groups.at(-1)).to.deep.include({ count: 2, harmless: 'seen from afar' });
    expect(severeCount(groups)).to.deep.equal({ errors: 1, warnings: 1 });
  });
  it('other words, and another gravity, are another message', () => {
    expect(logKey({ level: 'warning', text: 'no light' })).to.not.equal(logKey({ level: 'error', text: 'no light' }));
    expect(logKey({ level: 'note', text: 'depth 4' })).to.equal(logKey({ level: 'note', text: 'depth 12' }));
    expect(logKey({ level: 'note', text: 'depth 4' })).to.not.equal(logKey({ level: 'note', text: 'width 4' }));
  });
});
