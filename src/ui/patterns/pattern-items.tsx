"use client";

import { patternPlaces } from "@/core/beat/edits/alternate";
import { findPart } from "@/core/beat/edit";
import Dropdown from "react-bootstrap/Dropdown";
import type { SwitchMoment } from "@/core/sound/player/track";
import { useOfPattern, useWorkspace, useWorkspaceState } from "../workspace/use-workspace";

const MOMENTS: Readonly<Record<SwitchMoment, string>> = {
  lap: "at the loop's end",
  bar: "at the next bar",
  now: "at once",
};

/** What is done to the open pattern, and when patterns change. */
export default function PatternItems() {
  const workspace = useWorkspace();
  const places = useWorkspaceState(
    ({ history, patternRef }) => patternPlaces(findPart(history.present, patternRef.partId)).length,
  );
  const name = useOfPattern((pattern) => pattern.name);
  const isAlternate = useOfPattern(({ alternateOf }) => alternateOf !== undefined);
  const readOnly = useWorkspaceState((state) => state.readOnly);
  const together = useWorkspaceState(({ settings }) => settings.patternsTogether);
  const switchAt = useWorkspaceState(({ settings }) => settings.switchAt);
  return (
    <>
      <Dropdown.Item as="button" type="button" disabled={readOnly} onClick={() => workspace.patterns.duplicate()}>
        Duplicate {name}
      </Dropdown.Item>
      <Dropdown.Item as="button" type="button" disabled={readOnly} onClick={() => workspace.clearPattern()}>
        Clear {name}
      </Dropdown.Item>
      <Dropdown.Item
        as="button"
        type="button"
        disabled={readOnly || (places === 1 && !isAlternate)}
        onClick={() => workspace.patterns.remove()}
      >
        Delete {name}
      </Dropdown.Item>
      <Dropdown.Divider />
      <p className="dropdown-header">Change patterns</p>
      {(Object.keys(MOMENTS) as SwitchMoment[]).map((moment) => (
        <Dropdown.Item
          key={moment}
          as="button"
          type="button"
          aria-pressed={moment === switchAt}
          onClick={() => workspace.setSettings({ switchAt: moment })}
        >
          {moment === switchAt ? "● " : "○ "}
          {MOMENTS[moment]}
        </Dropdown.Item>
      ))}
      <Dropdown.Item
        as="button"
        type="button"
        aria-pressed={together}
        title="The same number is called up in all parts that have it"
        onClick={() => workspace.setSettings({ patternsTogether: !together })}
      >
        {together ? "☑ " : "☐ "}
        of all parts together
      </Dropdown.Item>
    </>
  );
}
