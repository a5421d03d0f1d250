import { padsOf } from "@/core/beat/lanes";
import { findPart } from "@/core/beat/edit";
import { deskOf } from "@/store/sounds/sound-desk";
import type { OpenedWorkspace } from "@/store/workspace/open-workspace";

/**
 * Files that were dropped on the page become sounds of the open kit: of the pad that they were dropped on and those behind it,
 * else of the one whose sound is looked at, else from the first one on.
 */
export function takeDropped(opened: OpenedWorkspace, files: readonly File[], target: Element): void {
  const { workspace } = opened;
  const pads = padsOf(findPart(workspace.beat, workspace.state.patternRef.partId));
  const lookedAt = document.querySelector("[data-lane][aria-pressed=true]");
  const lane = (target.closest("[data-lane]") ?? lookedAt)?.getAttribute("data-lane");
  const pad = pads.find(({ id }) => String(id) === lane) ?? pads[0];
  if (!pad) return workspace.store.setState({ notice: "Sounds go onto the pads of a kit; a voice has none." });
  workspace.showView("sounds");
  void deskOf(opened).bringIn(files, pad.id);
}
