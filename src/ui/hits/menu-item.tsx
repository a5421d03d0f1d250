"use client";

import Dropdown from "react-bootstrap/Dropdown";
import styles from "./hits.module.scss";

export interface MenuItemProps {
  /** Its keys in words. */
  readonly keys?: string;
  readonly disabled?: boolean;
  readonly children: React.ReactNode;
  onClick(): void;
}

/** A line of a menu, with its keys beside it. */
export function MenuItem({ keys, disabled = false, children, onClick }: MenuItemProps) {
  return (
    <Dropdown.Item as="button" type="button" className={styles.item!} disabled={disabled} onClick={onClick}>
      {children}
      {keys && <kbd aria-hidden>{keys}</kbd>}
    </Dropdown.Item>
  );
}
