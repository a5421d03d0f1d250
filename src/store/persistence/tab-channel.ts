/** What one tab asks of the one that edits a beat. */
export type TabRequest =
  | { readonly kind: "rename"; readonly name: string }
  /** Everything is to be on disk. */
  | { readonly kind: "flush" }
  /** Another tab is to edit it. */
  | { readonly kind: "hand over" };

/** `silent`: nobody answered in time; the tab may be frozen. */
export type TabAnswer = "done" | "refused" | "silent";

type Message =
  | { readonly type: "ask"; readonly id: number; readonly beatId: string; readonly request: TabRequest }
  | { readonly type: "answer"; readonly id: number; readonly done: boolean };

/** Does what it is asked; undefined where another tab is meant. */
export type TabServant = (request: TabRequest) => Promise<boolean | undefined>;

const ANSWER_LIMIT_MS = 2000;

/** Lets the tabs of one browser ask each other; every question is answered or given up after two seconds. */
export class TabChannel {
  private readonly channel: BroadcastChannel | undefined;
  private readonly servants = new Map<string, TabServant>();
  private readonly waiting = new Map<number, (answer: TabAnswer) => void>();

  constructor(open: () => BroadcastChannel | undefined) {
    this.channel = open();
    if (this.channel) this.channel.onmessage = ({ data }: MessageEvent<Message>) => void this.receive(data);
  }

  ask(beatId: string, request: TabRequest, limitMs = ANSWER_LIMIT_MS): Promise<TabAnswer> {
    const { channel } = this;
    if (!channel) return Promise.resolve("silent");
    const id = Math.random();
    return new Promise((resolve) => {
      const settle = (answer: TabAnswer) => {
        clearTimeout(timer);
        this.waiting.delete(id);
        resolve(answer);
      };
      const timer = setTimeout(() => settle("silent"), limitMs);
      this.waiting.set(id, settle);
      channel.postMessage({ type: "ask", id, beatId, request } satisfies Message);
    });
  }

  /** Answers what is asked about a beat. @returns the undo */
  serve(beatId: string, answer: TabServant): () => void {
    this.servants.set(beatId, answer);
    return () => {
      if (this.servants.get(beatId) === answer) this.servants.delete(beatId);
    };
  }

  close(): void {
    for (const settle of [...this.waiting.values()]) settle("silent");
    this.channel?.close();
  }

  private async receive(message: Message): Promise<void> {
    if (message.type === "answer") return this.waiting.get(message.id)?.(message.done ? "done" : "refused");
    const servant = this.servants.get(message.beatId);
    if (!servant) return;
    const done = await servant(message.request).catch(() => false);
    if (done !== undefined) this.channel?.postMessage({ type: "answer", id: message.id, done } satisfies Message);
  }
}
