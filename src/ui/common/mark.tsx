/** The sign of the app: a drum head and its echo. */
export function Mark() {
  return (
    <svg width="30" height="30" viewBox="0 0 32 32" aria-hidden style={{ verticalAlign: "-0.12em" }}>
      <circle cx="12.5" cy="16" r="10" fill="none" stroke="var(--ink)" strokeWidth="3" />
      <circle cx="12.5" cy="16" r="3.6" fill="var(--brass)" />
      <path d="M26 8a13 13 0 0 1 0 16" fill="none" stroke="var(--brass)" strokeWidth="3" strokeLinecap="round" />
    </svg>
  );
}
