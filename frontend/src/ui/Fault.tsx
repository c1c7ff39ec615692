/** What went wrong, in the words of who says so; nothing where nothing did. */
export function Fault({ words, className = "" }: { words: string | null | undefined; className?: string }) {
  if (!words) return null;
  return (
    <p role="alert" className={`alert alert-error ${className}`}>
      {words}
    </p>
  );
}
