"use client";

interface NameFieldProps {
  readonly name: string;
  readonly className: string | undefined;
  onRename(name: string): void;
}

/** A name that is typed over; taken with Enter, or by going elsewhere. */
export function NameField({ name, className, onRename }: NameFieldProps) {
  return (
    <label className={className}>
      Name
      <input
        key={name}
        className="form-control form-control-sm"
        defaultValue={name}
        maxLength={120}
        onBlur={(event) => onRename(event.currentTarget.value)}
        onKeyDown={(event) => event.key === "Enter" && event.currentTarget.blur()}
      />
    </label>
  );
}
