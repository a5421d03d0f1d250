"use client";

import Dropdown from "react-bootstrap/Dropdown";
import type { BeatRecord } from "@/store/persistence/rows/rows";
import type { Shelf } from "@/store/shelf/shelf";
import { ThreeDots } from "../icons/generated/three-dots";
import styles from "./shelf.module.scss";

interface BeatMenuProps {
  readonly record: BeatRecord;
  readonly shelf: Shelf;
  onRename(): void;
}

/** Menu of a beat on the shelf. */
export default function BeatMenu({ record, shelf, onRename }: BeatMenuProps) {
  return (
    <Dropdown align="end" className={styles.menu}>
      <Dropdown.Toggle
        as="button"
        type="button"
        className="btn btn-sm"
        bsPrefix="more"
        aria-label={`More for ${record.beat.name}`}
      >
        <ThreeDots aria-hidden />
      </Dropdown.Toggle>
      <Dropdown.Menu>
        {/* A closing menu gives the focus back to its button; the field may only come after that. */}
        <Dropdown.Item as="button" type="button" onClick={() => setTimeout(onRename)}>
          Rename
        </Dropdown.Item>
        <Dropdown.Item as="button" type="button" onClick={() => void shelf.duplicate(record.id)}>
          Duplicate
        </Dropdown.Item>
        <Dropdown.Item as="button" type="button" onClick={() => void shelf.remove(record)}>
          Delete
        </Dropdown.Item>
      </Dropdown.Menu>
    </Dropdown>
  );
}
