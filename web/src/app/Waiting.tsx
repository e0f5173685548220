import { Refused } from "../api/client";

/** What an answer waits for, or why there is none. */
export function Waiting({
  title,
  missing,
  error,
}: {
  title: string;
  missing: (string | false)[];
  error: Error | null;
}) {
  const faults = error instanceof Refused ? error.faults : [];
  if (error)
    return (
      <div className="decide-waiting" role="alert">
        <h2>Not yet</h2>
        <ul className="trouble">
          {[...new Set(faults.length > 0 ? faults.map((f) => f.message) : [error.message])].slice(0, 6).map((m) => (
            <li key={m}>{m}</li>
          ))}
        </ul>
      </div>
    );
  const list = missing.filter((m) => m !== false);
  return (
    <div className="decide-waiting">
      <h2>{title}</h2>
      {list.length === 0 ? (
        <p>Working it out …</p>
      ) : (
        <>
          <p>Enter:</p>
          <ul>
            {list.map((m) => (
              <li key={m}>{m}</li>
            ))}
          </ul>
        </>
      )}
    </div>
  );
}
