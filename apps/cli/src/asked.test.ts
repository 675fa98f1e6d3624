import { expect } from 'chai';
import { Command } from 'commander';
import { ClipUnreadable } from '@bevrin/media';
import { AskedUnusable, EXIT, lastLine, parsed, rangeFrom, sayWhy } from './asked.js';

/** Streams that keep what is written. */
const kept = (isTTY = false) => {
  const said = { out: '', err: '' };
  return {
    said,
    stdout: { write: (text: string) => (said.out += text) },
    stderr: { isTTY, write: (text: string) => (said.err += text) },
  };
};

describe('what is asked of a command', () => {
  const command = (): Command => new Command('look').argument('<clip>').option('--deep', 'look twice');

  it('is read where it is right, and otherwise said on the way', () => {
    const right = kept();
    const read = command();
    expect(parsed(read, ['a.mov', '--deep'], right)).to.equal(null);
    expect([read.args, read.opts()]).to.deep.equal([['a.mov'], { deep: true }]);
    expect(right.said).to.deep.equal({ out: '', err: '' });
    for (const [args, says] of [
      [[], 'clip'],
      [['a.mov', 'b.mov'], 'too many arguments'],
      [['a.mov', '--wide'], '--wide'],
    ] as const) {
      const wrong = kept();
      expect(parsed(command(), args, wrong), args.join(' ')).to.equal(EXIT.usage);
      expect(wrong.said.out).to.equal('');
      expect(wrong.said.err).to.contain(says);
    }
  });

  it('may be help, which is no error and goes where answers go', () => {
    const streams = kept();
    expect(parsed(command(), ['--help'], streams)).to.equal(EXIT.done);
    expect(streams.said.out).to.contain('look twice');
    expect(streams.said.err).to.equal('');
  });

  it('has frames from one to another, or all of them', () => {
    expect(rangeFrom(undefined, '0-24')).to.equal(undefined);
    expect(rangeFrom('12-40', '0-24')).to.deep.equal({ startFrame: 12, endFrame: 40 });
    for (const text of ['12', '12-', '-4', '1-2-3', 'a-b'])
      expect(() => rangeFrom(text, '0-24'), text)
        .to.throw(AskedUnusable)
        .with.property('message')
        .that.contains('such as 0-24');
  });
});

describe('what a command says', () => {
  it('is one line on what went wrong, with its own status; what nobody foresaw is thrown', () => {
    const usage = kept();
    expect(sayWhy(new AskedUnusable('--range x: no.'), usage, [])).to.equal(EXIT.usage);
    expect(usage.said).to.deep.equal({ out: '', err: '--range x: no.\n' });
    expect(sayWhy(new RangeError('too far'), kept(), [RangeError])).to.equal(EXIT.usage);
    const unreadable = kept();
    const error = Object.assign(new ClipUnreadable('', '', ''), { message: 'a.mov: broken\nat once' });
    expect(sayWhy(error, unreadable, [])).to.equal(EXIT.unreadable);
    expect(unreadable.said.err).to.equal('a.mov: broken at once\n');
    expect(() => sayWhy(new TypeError('a slip'), kept(), [])).to.throw('a slip');
  });

  it('is how far it has come on the last line of a terminal, cleared in the end, and nothing in a file', () => {
    const terminal = kept(true);
    const say = lastLine(terminal);
    say('aligning');
    say('');
    expect(terminal.said.err).to.equal('\raligning\x1b[K\r\x1b[K');
    const file = kept(false);
    lastLine(file)('aligning');
    expect(file.said.err).to.equal('');
  });
});
