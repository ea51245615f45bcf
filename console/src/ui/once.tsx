import { CopyButton } from "./form";

/** A secret that is shown this once: to be copied, then put away. */
export function Once({
  words,
  text,
  label,
  onSeen,
}: {
  words: string;
  text: string;
  label: string;
  onSeen: () => void;
}) {
  return (
    <div role="status" className="mb-4 border-l-4 border-moss bg-moss-wash px-4 py-3">
      <p className="mb-2 font-semibold">{words} It is shown this once: copy it now.</p>
      <section aria-label={label} className="bg-paper p-3 font-mono text-sm wrap-anywhere">
        {text}
      </section>
      <div className="mt-2 flex flex-wrap gap-3">
        <CopyButton text={text} />
        <button type="button" className="button" data-size="small" onClick={onSeen}>
          I have it
        </button>
      </div>
    </div>
  );
}
