"use client";

import styles from "./toggle.module.scss";

interface MuteSoloProps {
  /** As a listener is told. */
  readonly name: string;
  readonly muted: boolean;
  readonly soloed: boolean;
  readonly disabled: boolean;
  readonly className?: string | undefined;
  onMute(): void;
  onSolo(): void;
}

/** Whether a pad or a part is heard: M and S, everywhere the same. */
export function MuteSolo({ name, muted, soloed, disabled, className = "", onMute, onSolo }: MuteSoloProps) {
  const shared = { type: "button" as const, className: `${styles.toggle} ${className}`, disabled };
  return (
    <>
      <button {...shared} aria-label={`Mute ${name}`} aria-pressed={muted} onClick={onMute}>
        M
      </button>
      <button {...shared} aria-label={`Solo ${name}`} aria-pressed={soloed} onClick={onSolo}>
        S
      </button>
    </>
  );
}
