"use client";

import { useRef, useState, type ReactNode } from "react";
import type { KitPart } from "@/core/beat/beat";
import type { OwnKit } from "@/core/beat/edits/own-kit";
import { KIT_IDS, KITS } from "@/core/instruments";
import type { SoundDesk } from "@/store/sounds/sound-desk";
import { download, fileNameOf } from "../common/download";
import { useWorkspaceState } from "../workspace/use-workspace";
import { Choice } from "./choice";
import styles from "./sounds.module.scss";
import type { Browsing } from "./use-browsing";

interface KitListProps {
  readonly desk: SoundDesk;
  readonly part: KitPart;
  readonly browsing: Browsing;
  /** All kits are there to be heard. */
  readonly prepared: boolean;
}

/** The program's kits and the player's own, gone through with arrow keys or the pointer. */
export function KitList({ desk, part, browsing, prepared }: KitListProps) {
  const ownKits = useWorkspaceState((state) => state.ownKits);
  const readOnly = useWorkspaceState((state) => state.readOnly);
  const own = ownKits.find(({ name }) => name === part.kitName);
  return (
    <div className={styles.kits}>
      <fieldset disabled={readOnly} className={styles.choices} aria-busy={!prepared}>
        <legend>Kit</legend>
        {KIT_IDS.map((id) => (
          <Choice
            key={id}
            group="kit"
            name={KITS[id].name}
            description={KITS[id].description}
            checked={part.kitName === undefined && part.kitId === id}
            onChoose={() => desk.setKit(id, browsing.gesture())}
          />
        ))}
        {ownKits.map((kit) => (
          <Choice
            key={kit.name}
            group="kit"
            name={kit.name}
            description="your own"
            checked={kit === own}
            onChoose={() => void desk.setOwnKit(kit, browsing.gesture())}
          />
        ))}
        {part.kitName !== undefined && !own && (
          <Choice group="kit" name={part.kitName} description="came with this beat" checked onChoose={() => {}} />
        )}
      </fieldset>
      <p className={styles.hint}>Arrow keys or a click: heard from the next hit on. Esc goes back.</p>
      <KeepKit desk={desk} part={part} own={own} />
      <SpaceUsed />
    </div>
  );
}

/** What pads strike now, kept as a kit of one's own; and what can be done with such a kit. */
function KeepKit({ desk, part, own }: Pick<KitListProps, "desk" | "part"> & { readonly own: OwnKit | undefined }) {
  const [name, setName] = useState("");
  const removed = useWorkspaceState((state) => state.removedKit);
  const keep = () => {
    void desk.keepKit(name || (part.kitName ?? ""));
    setName("");
  };
  return (
    <div className={styles.own}>
      <form
        className={styles.keep}
        onSubmit={(event) => {
          event.preventDefault();
          keep();
        }}
      >
        <input
          className="form-control form-control-sm"
          aria-label="Name of your kit"
          placeholder={part.kitName ?? `${part.name} as it is now`}
          maxLength={120}
          value={name}
          onChange={(event) => setName(event.currentTarget.value)}
        />
        <button type="submit" className="btn btn-sm" title="Saves what the pads strike, their levels and pans">
          Save kit
        </button>
      </form>
      {own && <OwnKitTools desk={desk} kit={own} />}
      <TakeKit desk={desk} />
      {removed && (
        <p className={styles.hint} role="status">
          “{removed.kit.name}” was deleted. <Tool onClick={() => void desk.bringKitBack()}>Bring it back</Tool>
        </p>
      )}
    </div>
  );
}

function OwnKitTools({ desk, kit }: { readonly desk: SoundDesk; readonly kit: OwnKit }) {
  const save = async () => {
    const file = await desk.kitFile(kit);
    if (typeof file === "string") download(file, `${fileNameOf(kit.name)}.kit.json`, "application/json");
    else download(file, `${fileNameOf(kit.name)}.kit.zip`, "application/zip");
  };
  return (
    <div className={styles.tools}>
      <input
        key={kit.name}
        className="form-control form-control-sm"
        aria-label="New name of this kit"
        defaultValue={kit.name}
        maxLength={120}
        onBlur={(event) => void desk.renameKit(kit, event.currentTarget.value)}
        onKeyDown={(event) => event.key === "Enter" && event.currentTarget.blur()}
      />
      <Tool onClick={() => void save()}>Export</Tool>
      <Tool onClick={() => void desk.removeKit(kit)}>Delete</Tool>
    </div>
  );
}

function TakeKit({ desk }: { readonly desk: SoundDesk }) {
  const picker = useRef<HTMLInputElement>(null);
  return (
    <>
      <Tool onClick={() => picker.current?.click()}>Import a kit…</Tool>
      <input
        ref={picker}
        type="file"
        className="d-none"
        aria-label="Import a kit file"
        accept=".json,.zip,application/json,application/zip"
        onChange={({ currentTarget }) => {
          const [file] = currentTarget.files ?? [];
          if (file) void desk.takeKitFile(file).finally(() => (currentTarget.value = ""));
        }}
      />
    </>
  );
}

function Tool({ children, onClick }: { readonly children: ReactNode; onClick(): void }) {
  return (
    <button type="button" className="btn btn-sm" onClick={onClick}>
      {children}
    </button>
  );
}

function SpaceUsed() {
  const bytes = useWorkspaceState((state) => state.sampleBytes);
  if (bytes === 0) return null;
  return <p className={styles.hint}>Samples of this beat: {(bytes / 2 ** 20).toFixed(1)} of 50 MB.</p>;
}
