/** An email address that, where it does not fit, breaks before its domain. */
export function Address({ of }: { of: string }) {
  const at = of.lastIndexOf("@");
  if (at < 0) return <>{of}</>;
  return (
    <>
      {of.slice(0, at)}
      <wbr />
      {of.slice(at)}
    </>
  );
}
