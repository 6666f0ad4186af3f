// The walk through the demonstrations, inside the application.
import guide from "@docs/guide.md?raw";
import Markdown from "react-markdown";
import { Link, useNavigate } from "react-router";
import remarkGfm from "remark-gfm";

export function Guide() {
  const go = useNavigate();
  return (
    <div className="flex min-h-full flex-col bg-base-200">
      <header className="flex h-[46px] shrink-0 items-center gap-4 bg-neutral px-5 text-neutral-content">
        <Link to="/" className="text-[17px] font-bold">
          Reamer
        </Link>
        <span className="grow opacity-80">the guide</span>
        <button type="button" className="min-h-6 cursor-pointer text-xs underline" onClick={() => go(-1)}>
          Back to where you were
        </button>
      </header>
      <main className="guide mx-auto w-full max-w-4xl grow px-5 py-6">
        <Markdown
          remarkPlugins={[remarkGfm]}
          components={{
            // Other pages of the project's papers are not part of the application.
            a: ({ children }) => <span>{children}</span>,
          }}
        >
          {guide}
        </Markdown>
      </main>
    </div>
  );
}
