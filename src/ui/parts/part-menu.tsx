"use client";

import { useState } from "react";
import { createPortal } from "react-dom";
import Dropdown from "react-bootstrap/Dropdown";
import { ThreeDots } from "../icons/generated/three-dots";
import { useOpenInstrument, useWorkspaceState } from "../workspace/use-workspace";
import styles from "./part-strip.module.scss";
import { lazyView } from "../common/lazy-view";

const PartItems = lazyView(() => import("./part-items"));

/** What is seldom done to the open part; fetched when it is looked at first. */
export function PartMenu() {
  const { name } = useOpenInstrument();
  const readOnly = useWorkspaceState((state) => state.readOnly);
  const [open, setOpen] = useState(false);
  return (
    <Dropdown align="start" autoClose="outside" show={open} onToggle={setOpen}>
      <Dropdown.Toggle
        as="button"
        type="button"
        className="btn btn-sm"
        bsPrefix="part"
        aria-label={`More of ${name}`}
        disabled={readOnly}
      >
        <ThreeDots aria-hidden />
      </Dropdown.Toggle>
      {createPortal(<Dropdown.Menu className={styles.menu!}>{open && <PartItems />}</Dropdown.Menu>, document.body)}
    </Dropdown>
  );
}
