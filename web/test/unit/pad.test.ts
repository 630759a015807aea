import { expect } from 'chai';
import { padActs, type PadState } from '../../src/lib/trial/pad.ts';

const pad = (pressed: number[], axes: number[] = [0, 0]): PadState => ({
  buttons: Array.from({ length: 16 }, (_, index) => pressed.includes(index)),
  axes
});

describe('a gamepad', () => {
  it('acts when something comes to be pressed, not while it stays so', () => {
    expect(padActs(pad([]), pad([0]))).to.deep.equal([{ use: true }]);
    expect(padActs(pad([0]), pad([0]))).to.deep.equal([]);
    expect(padActs(pad([0]), pad([]))).to.deep.equal([]);
    expect(padActs(undefined, pad([9]))).to.deep.equal([{ button: 9 }]);
  });

  it('walks by the cross and by the stick, once each way', () => {
    expect(padActs(pad([]), pad([13]))).to.deep.equal([{ move: 1 }]);
    expect(padActs(pad([]), pad([14]))).to.deep.equal([{ move: -1 }]);
    expect(padActs(pad([]), pad([], [0, 0.9]))).to.deep.equal([{ move: 1 }]);
    expect(padActs(pad([], [0, 0.9]), pad([], [0, 1]))).to.deep.equal([]);
    expect(padActs(pad([], [0, 0.9]), pad([], [0, -0.9]))).to.deep.equal([{ move: -1 }]);
    expect(padActs(pad([]), pad([], [0.3, -0.4]))).to.deep.equal([]);
  });
});
