/** The accent over a baseline, and the name. */
export function NameMark() {
  return (
    <>
      <svg width="14" height="22" viewBox="0 0 14 22" aria-hidden>
        <path d="M5 12 9 3" stroke="currentColor" strokeWidth="3" strokeLinecap="round" />
        <path d="M0 20h14" stroke="currentColor" strokeWidth="1.5" />
      </svg>
      Tonos
    </>
  );
}
