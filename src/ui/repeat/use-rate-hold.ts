"use client";

import { useMemo } from "react";
import type { RepeatRate } from "@/inputs/commands";
import type { Workspace } from "@/store/workspace/workspace";
import { useWorkspace } from "../workspace/use-workspace";

/** A rate under a finger: held while another finger strikes a pad; a click with no stroke in it keeps the rate on. */
class RateHold {
  private held: RepeatRate | undefined;
  private struck = false;
  private forget = () => {};

  constructor(private readonly workspace: Workspace) {}

  begin(rate: RepeatRate): void {
    this.end();
    this.held = rate;
    this.struck = false;
    this.forget = this.workspace.router.onStrike(() => (this.struck = true));
    this.workspace.repeat.holdRate(rate, true);
  }

  readonly end = () => {
    if (this.held) this.workspace.repeat.holdRate(this.held, false);
    this.held = undefined;
    this.forget();
  };

  click(rate: RepeatRate): void {
    if (!this.struck) this.workspace.repeat.toggleLatch(rate);
    this.struck = false;
  }
}

export function useRateHold(): RateHold {
  const workspace = useWorkspace();
  return useMemo(() => new RateHold(workspace), [workspace]);
}
