// Frames of the browser and the graphics card are stood in for, so that each step is made by hand.
import { expect } from 'chai';
import { FramePacer } from '../src/model/framePacer.ts';

const real = globalThis.requestAnimationFrame;
const realNow = performance.now;

describe('the pace of the model', () => {
  let frames: FrameRequestCallback[] = [];
  let clock = 0;
  let finished = true;
  let drawn: boolean[] = [];
  let pacer: FramePacer;
  const gl = {
    SYNC_GPU_COMMANDS_COMPLETE: 1,
    TIMEOUT_EXPIRED: 2,
    fenceSync: () => ({}),
    flush: () => {},
    clientWaitSync: () => (finished ? 3 : 2),
    deleteSync: () => {},
  } as unknown as WebGL2RenderingContext;
  /** One frame of the browser: what was asked for before it. */
  const frame = () => frames.splice(0).forEach((run) => run(clock));
  beforeEach(() => {
    [frames, drawn, clock, finished] = [[], [], 0, true];
    globalThis.requestAnimationFrame = (run) => frames.push(run);
    performance.now = () => clock;
    pacer = new FramePacer(gl, (lighter) => drawn.push(lighter));
  });
  afterEach(() => {
    globalThis.requestAnimationFrame = real;
    performance.now = realNow;
  });

  it('draws once for all that is asked within a frame', () => {
    for (let i = 0; i < 3; i++) pacer.draw();
    for (let i = 0; i < 4; i++) frame();
    expect(drawn).to.deep.equal([false]);
  });

  it('waits for the graphics card, and draws then what was asked for meanwhile', () => {
    finished = false;
    pacer.draw();
    frame();
    pacer.draw();
    for (let i = 0; i < 5; i++) frame();
    expect(drawn, 'one is still being drawn').to.have.length(1);
    finished = true;
    for (let i = 0; i < 2; i++) frame();
    expect(drawn).to.have.length(2);
  });

  it('is lighter while the view moves, if a whole frame took too long; whole again when it rests', () => {
    const draw = (ms: number) => {
      pacer.draw();
      frame();
      clock += ms;
      frame();
    };
    pacer.moving = true;
    draw(10);
    draw(200);
    draw(5);
    draw(5);
    pacer.moving = false;
    draw(10);
    expect(drawn).to.deep.equal([false, false, true, true, false]);
  });

  it('stops with the view', () => {
    pacer.draw();
    pacer.end();
    frame();
    expect(drawn).to.deep.equal([]);
  });
});
