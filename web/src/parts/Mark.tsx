/** The product's mark: three strata, palest on top. */
export function Mark({ size = 26 }: { size?: number }) {
  return (
    <svg width={size} height={size} viewBox="4 6 24 23" aria-hidden="true">
      <path d="M5 23c4-2 7 1.5 11 0s7-1.500 11 0v4.500H5z" fill="#1a1a1a" />
      <path
        d="M5 15.500c4-2 7 1.500 11 0s7-1.500 11 0v4.500c-4-1.500-7 1.500-11 0s-7-1.500-11 0z"
        fill="#6c6c6c"
      />
      <path
        d="M5 8c4-2 7 1.500 11 0s7-1.500 11 0v4.500c-4-1.500-7 1.500-11 0s-7-1.500-11 0z"
        fill="#b0b0b0"
      />
    </svg>
  );
}
