/** The mark: threads crossing. */
export function Mark() {
  return (
    <svg viewBox="0 0 22 22" width="21" height="21" aria-hidden="true" stroke="currentColor" fill="none">
      <path d="M4 1v20M9 1v20M14 1v20M19 1v20" strokeWidth="1.4" />
      <path
        d="M1 5h4M7 5h4M12 5h4M18 5h3M1 11h2M5 11h6M12 11h2M16 11h5M1 17h4M7 17h4M12 17h4M18 17h3"
        strokeWidth="2.6"
      />
    </svg>
  );
}
