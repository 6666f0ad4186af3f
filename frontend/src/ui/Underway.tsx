// A file on its way to the server and read there, which can be stopped.

export function Underway({ part, onCancel }: { part: number; onCancel: () => void }) {
  return (
    <p role="status" className="mt-2">
      <progress aria-label="the file" {...(part < 1 ? { value: part } : {})} />{" "}
      {part < 1 ? `Sending it… ${Math.round(part * 100)} %` : "Reading it…"}{" "}
      <button type="button" className="act plain" onClick={onCancel}>
        Cancel
      </button>
    </p>
  );
}
