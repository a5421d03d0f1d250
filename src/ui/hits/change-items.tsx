"use client";

import Dropdown from "react-bootstrap/Dropdown";
import { useKeyName } from "../common/use-key-name";
import { useOpenInstrument, useWorkspace } from "../workspace/use-workspace";
import { EntryField } from "./entry-field";
import styles from "./hits.module.scss";
import { MenuItem } from "./menu-item";
import { typeAccents } from "./typed";

/** How far chance may take a velocity. */
const LOOSE = 12;

/** What is seldomer made of the chosen hits, and of the whole loop. @param none nothing is chosen */
export default function ChangeItems({ none }: { readonly none: boolean }) {
  return (
    <>
      <CopyItems none={none} />
      <Dropdown.Divider />
      <VelocityItems none={none} />
      <Dropdown.Divider />
      <PlaceItems none={none} />
      <Dropdown.Divider />
      <LoopItems />
    </>
  );
}

function CopyItems({ none }: { readonly none: boolean }) {
  const { hits } = useWorkspace();
  const [copy, cut] = useKeyName("copy").words.replace("Ctrl ", "").split(" ");
  const paste = useKeyName("paste").words;
  const here = useKeyName("pasteHere").words;
  const repeat = useKeyName("repeatHits").words;
  return (
    <>
      <MenuItem keys={`Ctrl ${copy}`} disabled={none} onClick={() => hits.copy()}>
        Copy
      </MenuItem>
      <MenuItem keys={`Ctrl ${cut}`} disabled={none} onClick={() => hits.cut()}>
        Cut
      </MenuItem>
      <MenuItem keys={paste} onClick={() => void hits.paste("same")}>
        Paste at the same places
      </MenuItem>
      <MenuItem keys={here} onClick={() => void hits.paste("here")}>
        Paste where playback or the focus is
      </MenuItem>
      <MenuItem keys={repeat} disabled={none} onClick={() => hits.repeat()}>
        Repeat until the loop is full
      </MenuItem>
      <MenuItem disabled={none} onClick={() => hits.copyBar()}>
        Copy its bar onto all bars
      </MenuItem>
    </>
  );
}

function VelocityItems({ none }: { readonly none: boolean }) {
  const { hits } = useWorkspace();
  return (
    <>
      <MenuItem disabled={none} onClick={() => hits.compressVelocity()}>
        Even out velocities
      </MenuItem>
      <MenuItem disabled={none} onClick={() => hits.loosenVelocity(LOOSE, Math.floor(Math.random() * 2 ** 31))}>
        Loosen velocities
      </MenuItem>
      <div className={styles.accents}>
        <EntryField
          label="Accents along the lines of a bar"
          mark="Accents"
          title="Velocities from line to line, again and again: 110 70 90 70; - leaves a line as it is"
          shown="110 70 90 70"
          disabled={none}
          onType={(typed) => typeAccents(hits, typed)}
        />
      </div>
    </>
  );
}

function PlaceItems({ none }: { readonly none: boolean }) {
  const { hits } = useWorkspace();
  const tonal = useOpenInstrument().kind === "tonal";
  return (
    <>
      <MenuItem disabled={none} onClick={() => hits.flatten()}>
        Keep their places, whatever the grid
      </MenuItem>
      <MenuItem disabled={none} onClick={() => hits.endOnLines()}>
        End on lines
      </MenuItem>
      <MenuItem disabled={none} onClick={() => hits.unmask()}>
        Let double triggers sound
      </MenuItem>
      <MenuItem disabled={none} onClick={() => hits.cutAtEnd()}>
        Cut at the loop’s end
      </MenuItem>
      {tonal && (
        <>
          <MenuItem disabled={none} onClick={() => hits.moveByLanes(12)}>
            An octave up
          </MenuItem>
          <MenuItem disabled={none} onClick={() => hits.moveByLanes(-12)}>
            An octave down
          </MenuItem>
        </>
      )}
    </>
  );
}

function LoopItems() {
  const { hits } = useWorkspace();
  return (
    <>
      <MenuItem onClick={() => hits.doubleLoop()}>Double the loop with what it has</MenuItem>
      <MenuItem onClick={() => hits.halveLoop()}>Cut the loop in half</MenuItem>
    </>
  );
}
