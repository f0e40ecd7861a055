/** The letter, and its preview beside it where there is room. */
export const BESIDE_PREVIEW = {
  display: "grid",
  gridTemplateColumns: { xs: "minmax(0,1fr)", lg: "minmax(0,1fr) 400px" },
  columnGap: 3,
  maxWidth: 1320,
};
