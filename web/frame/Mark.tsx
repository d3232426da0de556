/** The mark: a decaying wave that ends in a level line. */
export function Mark() {
  return (
    <svg width="28" height="20" viewBox="0 0 28 20" aria-hidden="true">
      <path
        d="M1 10 C2.5 10 3 2 4.6 2 S6.6 18 8.4 18 9.9 5 11.5 5 13 14 14.4 14 15.8 8 17 8 18.2 10 19.6 10 L27 10"
        fill="none"
        stroke="var(--kelp)"
        strokeWidth="2"
        strokeLinecap="round"
      />
    </svg>
  )
}
