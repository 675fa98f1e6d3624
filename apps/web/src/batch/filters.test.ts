import { expect } from 'chai';
import type { Clip } from '@bevrin/contract';
import { measurementWith } from '../../../../tests/support/measurement.js';
import { choicesIn, chosenClips, filtersFrom, grouped, withFilter } from './filters.js';

const { clip: facts } = measurementWith();
const clip = (
  name: string,
  severities: Partial<Record<'noise' | 'shake' | 'flicker', number>>,
  rest: { verdict?: 'pass' | 'fail' | 'marginal'; camera?: string; assignee?: string; width?: number } = {},
): Clip =>
  ({
    id: name,
    name,
    note: name === 'C' ? 'the second take' : '',
    state: 'measured',
    facts: { ...facts, width: rest.width ?? 1920 },
    summary: {
      camera: rest.camera ?? 'locked-off',
      findings: Object.entries(severities).map(([defect, severity]) => ({ defect, severity })),
    },
    standing: { verdict: rest.verdict ?? 'pass', assignee: rest.assignee ?? '', approved: false },
  }) as unknown as Clip;

const BATCH = [
  clip('A', { noise: 10 }),
  clip('B', { noise: 70, shake: 80 }, { verdict: 'fail', camera: 'hand-held', assignee: 'Ines' }),
  clip('C', { noise: 75 }, { verdict: 'fail', width: 1280 }),
  { ...clip('D', {}), state: 'failed', summary: null, standing: null } as Clip,
];
const names = (address: string): string[] =>
  chosenClips(BATCH, filtersFrom(new URLSearchParams(address))).map((c) => c.name);

describe('the filters of a batch', () => {
  it('put what cannot be read first, then the worst', () => {
    expect(names('')).to.deep.equal(['D', 'B', 'C', 'A']);
    expect(names('sort=received')).to.deep.equal(['A', 'B', 'C', 'D']);
    expect(names('sort=defect&defect=noise')).to.deep.equal(['C', 'B', 'A']);
  });

  it('leave what is asked for, one after the other and together', () => {
    expect(names('verdict=fail')).to.deep.equal(['B', 'C']);
    expect(names('verdict=not+readable')).to.deep.equal(['D']);
    expect(names('defect=shake')).to.deep.equal(['B']);
    expect(names('defect=noise&least=72')).to.deep.equal(['C']);
    expect(names('least=72')).to.deep.equal(['D', 'B', 'C']);
    expect(names('camera=hand-held')).to.deep.equal(['B']);
    expect(names('assignee=Ines')).to.deep.equal(['B']);
    expect(names('fact=1280×1080%2C+25+fps')).to.deep.equal(['C']);
    expect(names('verdict=fail&camera=locked-off')).to.deep.equal(['C']);
  });

  it('search names, notes and codecs, all words at once', () => {
    expect(names('q=second')).to.deep.equal(['C']);
    expect(names('q=prores+b')).to.deep.equal(['B']);
    expect(names('q=nowhere')).to.deep.equal([]);
  });

  it('group under what the clips share', () => {
    const lines = grouped(chosenClips(BATCH, filtersFrom(new URLSearchParams('sort=received'))), 'verdict');
    expect(lines.map((l) => (l.kind === 'group' ? `${l.name} ${l.count}` : l.clip.name))).to.deep.equal([
      'pass 1',
      'A',
      'fail 2',
      'B',
      'C',
      'not readable 1',
      'D',
    ]);
  });

  it('stand in the address, and only where they differ from the usual', () => {
    const search = withFilter(new URLSearchParams('q=x&sort=name'), 'sort', 'worst');
    expect(search.toString()).to.equal('q=x');
    expect(filtersFrom(new URLSearchParams('sort=sideways&least=900&defect=hum'))).to.include({
      sort: 'worst',
      least: 100,
      defect: '',
    });
  });

  it('offer only what there is', () => {
    expect(choicesIn(BATCH)).to.deep.equal({
      verdicts: ['pass', 'fail', 'not readable'],
      cameras: ['hand-held', 'locked-off', 'unknown'],
      facts: ['1280×1080, 25 fps', '1920×1080, 25 fps'],
      assignees: ['Ines', '–'],
    });
  });

  it('answer within 150 ms for 5,000 clips', () => {
    const many = Array.from({ length: 5000 }, (_, i) =>
      clip(`clip ${i}`, { noise: i % 100, shake: (i * 7) % 100 }, { verdict: i % 3 ? 'pass' : 'fail' }),
    );
    const from = performance.now();
    const left = grouped(
      chosenClips(many, filtersFrom(new URLSearchParams('q=clip&verdict=fail&defect=noise&least=50'))),
      'worst',
    );
    expect(performance.now() - from).to.be.lessThan(150);
    expect(left.length).to.be.greaterThan(500);
  });
});
