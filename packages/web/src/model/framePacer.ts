/** A frame that took longer than this, in milliseconds, is drawn lighter while the view moves. */
const SLOW_MS = 60;

/** Draws at the next frame of the browser, once the one before is done: what is slow to draw must not pile up. */
export class FramePacer {
  /** The view is being moved. */
  moving = false;
  private lastMs = 0;
  private drawing = false;
  private wanted = false;
  private ended = false;

  /** @param render draws; lighter where a whole frame takes too long for a view that moves */
  constructor(
    private readonly gl: WebGL2RenderingContext,
    private readonly render: (lighter: boolean) => void,
  ) {}

  end(): void {
    this.ended = true;
  }

  draw(): void {
    this.wanted = true;
    if (this.drawing) return;
    this.drawing = true;
    requestAnimationFrame(() => {
      this.wanted = false;
      if (this.ended) return;
      const started = performance.now();
      const lighter = this.moving && this.lastMs > SLOW_MS;
      this.render(lighter);
      const { gl } = this;
      const done = gl.fenceSync(gl.SYNC_GPU_COMMANDS_COMPLETE, 0);
      gl.flush();
      const look = () => {
        if (this.ended) return;
        if (done && gl.clientWaitSync(done, 0, 0) === gl.TIMEOUT_EXPIRED) return void requestAnimationFrame(look);
        gl.deleteSync(done);
        if (!lighter) this.lastMs = performance.now() - started;
        this.drawing = false;
        if (this.wanted) this.draw();
      };
      requestAnimationFrame(look);
    });
  }
}
