"use client";

import { useState } from "react";
import { createPortal } from "react-dom";
import Dropdown from "react-bootstrap/Dropdown";
import { ThreeDots } from "../icons/generated/three-dots";
import { GROOVE_GRIDS, type GrooveGrid } from "@/core/beat/feel";
import { SettingSelect } from "../common/fields/setting-select";
import { GrooveSources } from "./groove-sources";
import { OwnGroove } from "./own-groove";
import styles from "./timing.module.scss";

/** Grooves of one's own: made of what was played or of a file, renamed, taken away, dropped. */
export function GrooveMenu() {
  const [grid, setGrid] = useState<GrooveGrid>("1/16");
  const [bars, setBars] = useState<"1" | "2">("1");
  return (
    <Dropdown align="end" autoClose="outside">
      <Dropdown.Toggle as="button" type="button" className="btn btn-sm" bsPrefix="groove" aria-label="Groove from…">
        <ThreeDots aria-hidden />
      </Dropdown.Toggle>
      {createPortal(
        <Dropdown.Menu className={styles.sheet}>
          <div className={styles.pair}>
            <SettingSelect
              label="Grid of a new groove"
              value={grid}
              options={Object.fromEntries(GROOVE_GRIDS.map((name) => [name, name]))}
              onChange={(value: GrooveGrid) => setGrid(value)}
            />
            <SettingSelect
              label="Bars"
              value={bars}
              options={{ "1": "1", "2": "2" }}
              onChange={(value: "1" | "2") => setBars(value)}
            />
          </div>
          <GrooveSources grid={grid} bars={bars === "1" ? 1 : 2} />
          <Dropdown.Divider />
          <OwnGroove />
        </Dropdown.Menu>,
        document.body,
      )}
    </Dropdown>
  );
}
