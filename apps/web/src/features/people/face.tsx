/** The picture of an account, or the letters of its name. */
export function Face({ name, picture, size = 28 }: { name: string; picture: string | null; size?: number }) {
  const letters = name
    .split(/\s+/)
    .map((word) => word.charAt(0))
    .filter(Boolean);
  const shown = [letters[0], letters.length > 1 ? letters.at(-1) : ''].join('').toUpperCase();
  const style = { width: size, height: size };
  return picture ? (
    <img src={`/api/pictures/${picture}`} alt="" className="shrink-0 border border-hair object-cover" style={style} />
  ) : (
    <span
      aria-hidden
      className="woven inline-grid shrink-0 place-items-center border border-hair font-mono text-[11px] text-ink2"
      style={style}
    >
      {shown}
    </span>
  );
}
