import type { Reading } from "@/core/recover/readings/reading";
import { Controller } from "../state/controller";
import type { OpenEcho } from "../state/open-echo";

/** What has to do with the phrase that is open. */
export abstract class EchoController extends Controller {
  /** The reading that is chosen. */
  protected get reading(): Reading | undefined {
    const { openEcho } = this.state;
    return openEcho?.readings?.[openEcho.chosen];
  }

  protected change(change: Partial<OpenEcho>): void {
    const { openEcho } = this.state;
    if (openEcho) this.set({ openEcho: { ...openEcho, ...change } });
  }
}
