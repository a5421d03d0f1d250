import type { Page } from "@playwright/test";

/** What stands in for the machine's loudspeaker, as tests see it in the page. */
export interface Loudspeaker {
  /** Milliseconds of `performance.now()` at which a moment of the audio clock is heard. */
  heardAtMs(seconds: number): number;
  /** Does something at a moment of `performance.now()`, or at once when that is over. */
  at(momentMs: number, task: () => void): void;
  /** Plays on for so long, as fast as the machine can. */
  playOn(ms: number): Promise<void>;
  /** Plays on as fast as the machine can while this is set. */
  hurried: boolean;
  /** Plays on for so long while the page can do nothing at all. */
  playAlone(ms: number): Promise<void>;
}

/**
 * Runs in the page, before anything else. The machine's loudspeaker takes its next buffer when its time has come, whether
 * or not there is one, and a machine that is busy, or whose host gives its time to others, misses some. This one asks for
 * the next buffer when it has the last one, and the page's clock and timers go by what it has played. So on a slow machine
 * a test takes longer, and is otherwise the same: nothing is missed, and what is played on a moment is on it exactly.
 *
 * The sound itself comes from the browser's audio thread, by the page's own graph, as ever: the device is an offline
 * context (Web Audio API) that is held after every buffer, with the buffer and the delay of a usual device.
 */
export function replaceLoudspeaker(): void {
  const RATE = 44_100;
  const BUFFER_FRAMES = 512;
  const BUFFER_MS = (BUFFER_FRAMES * 1000) / RATE;
  const DELAY_MS = 30;
  /** The picture of a screen that shows twenty a second: at sixty, drawing would take more than all else does. */
  const PICTURE_MS = 50;
  /** More than any test plays. */
  const MOST_SECONDS = 600;

  const wallMs = performance.now.bind(performance);
  let startedMs: number | undefined;
  let playedFrames = 0;
  let playedAtMs = 0;
  const playedMs = () => (playedFrames * 1000) / RATE;
  /** Goes on between two buffers, but not beyond the next one. */
  const nowMs = () =>
    startedMs === undefined ? wallMs() : startedMs + playedMs() + Math.min(wallMs() - playedAtMs, BUFFER_MS);
  performance.now = nowMs;
  // Something happens when the page first sees it.
  const stamps = new WeakMap<Event, number>();
  Object.defineProperty(Event.prototype, "timeStamp", {
    configurable: true,
    get(this: Event) {
      if (!stamps.has(this)) stamps.set(this, nowMs());
      return stamps.get(this);
    },
  });

  interface Task {
    readonly id: number;
    readonly momentMs: number;
    readonly run: () => void;
  }
  let tasks: Task[] = [];
  let lastId = 1e9;
  const plan = (momentMs: number, run: () => void, id = ++lastId) => {
    tasks.push({ id, momentMs, run });
    return id;
  };
  const doWhatIsDue = () => {
    const due = tasks.filter(({ momentMs }) => momentMs <= nowMs()).sort((a, b) => a.momentMs - b.momentMs);
    for (const task of due) {
      if (!tasks.includes(task)) continue;
      tasks = tasks.filter((other) => other !== task);
      try {
        task.run();
      } catch (error) {
        reportError(error);
      }
    }
  };
  const wall = {
    setTimeout: window.setTimeout.bind(window),
    setInterval: window.setInterval.bind(window),
    clearTimeout: window.clearTimeout.bind(window),
  };
  type Timer = (run: (...args: unknown[]) => void, ms?: number, ...args: unknown[]) => number;
  const timeout: Timer = (run, ms = 0, ...args) =>
    startedMs === undefined ? wall.setTimeout(run, ms, ...args) : plan(nowMs() + ms, () => run(...args));
  const interval: Timer = (run, ms = 0, ...args) => {
    if (startedMs === undefined) return wall.setInterval(run, ms, ...args);
    const again = () => {
      plan(nowMs() + ms, again, id);
      run(...args);
    };
    const id = plan(nowMs() + ms, again);
    return id;
  };
  const clear = (id?: number) => {
    wall.clearTimeout(id);
    tasks = tasks.filter((task) => task.id !== id);
  };
  Object.assign(window, { setTimeout: timeout, setInterval: interval, clearTimeout: clear, clearInterval: clear });

  let pictures = new Map<number, FrameRequestCallback>();
  let drawing = new Map<number, FrameRequestCallback>();
  let drawnAtMs = -PICTURE_MS;
  const nextPicture = window.requestAnimationFrame.bind(window);
  const draw = () => {
    drawnAtMs = wallMs();
    [drawing, pictures] = [pictures, new Map()];
    for (const run of drawing.values())
      try {
        run(nowMs());
      } catch (error) {
        reportError(error);
      }
  };
  window.requestAnimationFrame = (run) => {
    if (pictures.size === 0) wall.setTimeout(() => nextPicture(draw), drawnAtMs + PICTURE_MS - wallMs());
    pictures.set(++lastId, run);
    return lastId;
  };
  // Also what is drawn in this very picture.
  window.cancelAnimationFrame = (id) => [pictures, drawing].forEach((all) => all.delete(id));

  // What the browser would move with every picture of its own stands where the page puts it, by the page's own time.
  const { animate } = Element.prototype;
  Element.prototype.animate = function (...args) {
    const animation = animate.apply(this, args);
    animation.pause();
    Object.defineProperty(animation, "startTime", {
      get: () => nowMs() - Number(animation.currentTime),
      set(startMs: number) {
        animation.currentTime = nowMs() - startMs;
      },
    });
    return animation;
  };

  const { port1, port2 } = new MessageChannel();
  const turns: (() => void)[] = [];
  port1.onmessage = () => turns.shift()!();
  /** Settles when all that the page was sent before has been received. */
  const turn = () =>
    new Promise<void>((done) => {
      turns.push(done);
      port2.postMessage(0);
    });
  const { suspend, resume, startRendering } = OfflineAudioContext.prototype;
  const { addEventListener } = EventTarget.prototype;
  let framesAlone = 0;
  /** The last one: when another beat is opened, the clock goes on with its device. */
  let playing: OfflineAudioContext | undefined;
  const speaker: Loudspeaker = {
    hurried: false,
    heardAtMs: (seconds) => startedMs! + seconds * 1000 + DELAY_MS,
    at: plan,
    async playOn(ms) {
      const { hurried } = this;
      this.hurried = true;
      await new Promise<void>((done) => plan(nowMs() + ms, done));
      this.hurried = hurried;
    },
    playAlone(ms) {
      framesAlone = Math.round((ms * RATE) / 1000 / BUFFER_FRAMES) * BUFFER_FRAMES;
      return new Promise<void>((done) => plan(nowMs() + ms, done));
    },
  };

  async function play(device: OfflineAudioContext): Promise<void> {
    playing = device;
    [startedMs, playedFrames, playedAtMs] = [nowMs(), 0, wallMs()];
    let dueMs = wallMs();
    let held = suspend.call(device, BUFFER_FRAMES / RATE);
    void startRendering.call(device);
    for (let frames = BUFFER_FRAMES; ; frames += BUFFER_FRAMES) {
      await held;
      if (playing !== device) return;
      playedFrames = frames;
      playedAtMs = wallMs();
      // Messages of the audio thread come in, then what is due, and its orders go out.
      await turn();
      doWhatIsDue();
      await turn();
      // What was hurried is not waited for afterwards.
      dueMs = speaker.hurried ? wallMs() : Math.max(dueMs + BUFFER_MS, wallMs() - 3 * BUFFER_MS);
      if (dueMs > wallMs()) await new Promise((done) => wall.setTimeout(done, dueMs - wallMs()));
      frames += framesAlone;
      held = suspend.call(device, (frames + BUFFER_FRAMES) / RATE);
      void resume.call(device);
      if (framesAlone > 0) while (device.currentTime < frames / RATE);
      framesAlone = 0;
    }
  }

  class Device extends OfflineAudioContext {
    constructor() {
      super(2, MOST_SECONDS * RATE, RATE);
      const { audioWorklet } = this;
      audioWorklet.addModule = async (...module) => {
        await AudioWorklet.prototype.addModule.apply(audioWorklet, module);
        wall.setTimeout(() => void play(this));
      };
    }
    get baseLatency() {
      return BUFFER_FRAMES / RATE;
    }
    get outputLatency() {
      return DELAY_MS / 1000;
    }
    override get state() {
      return "running" as const;
    }
    override resume() {
      return Promise.resolve();
    }
    close() {
      return Promise.resolve();
    }
    getOutputTimestamp() {
      return startedMs === undefined
        ? { contextTime: 0, performanceTime: 0 }
        : { contextTime: (playedMs() - DELAY_MS) / 1000, performanceTime: startedMs + playedMs() };
    }
    // Being held after every buffer is nobody's matter.
    override addEventListener(...[type, ...rest]: Parameters<EventTarget["addEventListener"]>) {
      if (type !== "statechange") addEventListener.call(this, type, ...rest);
    }
  }
  Object.assign(window, { AudioContext: Device, loudspeaker: speaker });
}

export interface WithLoudspeaker {
  readonly loudspeaker: Loudspeaker;
}

/** Lets so much sound be played: what `waitForTimeout` is where time does not matter. */
export function playOn(page: Page, ms: number): Promise<void> {
  return page.evaluate((ms) => (window as unknown as WithLoudspeaker).loudspeaker.playOn(ms), ms);
}

/** Lets so much sound be played while the page is blocked. */
export function playAlone(page: Page, ms: number): Promise<void> {
  return page.evaluate((ms) => (window as unknown as WithLoudspeaker).loudspeaker.playAlone(ms), ms);
}
