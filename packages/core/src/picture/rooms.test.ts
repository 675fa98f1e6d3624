import { expect } from 'chai';
import { Rooms } from './rooms.js';

describe('rooms for pictures', () => {
  it('leave the last ones of a size alone, and use older ones again', () => {
    const rooms = new Rooms(3);
    const [first, second, third] = [1, 2, 3].map((value) => rooms.take(5).fill(value));
    expect([first[4], second[4], third[4]]).to.deep.equal([1, 2, 3]);
    const fourth = rooms.take(5).fill(4);
    expect([first[4], second[4], third[4]]).to.deep.equal([4, 2, 3]);
    expect(fourth).to.not.equal(first);
  });

  it('are never shared between sizes', () => {
    const rooms = new Rooms(1);
    const small = rooms.take(3).fill(1);
    rooms.take(4).fill(2);
    expect([...small]).to.deep.equal([1, 1, 1]);
    rooms.take(3).fill(5);
    expect([...small]).to.deep.equal([5, 5, 5]);
  });
});
