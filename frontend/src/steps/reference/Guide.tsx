// Papers of the project inside the application: the walk through the demonstrations, and what was checked against what.
import checks from "@docs/checks.md?raw";
import guide from "@docs/guide.md?raw";
import Markdown from "react-markdown";
import { Link, useNavigate } from "react-router";
import remarkGfm from "remark-gfm";

function Paper({ title, text }: { title: string; text: string }) {
  const go = useNavigate();
  return (
    <div className="flex min-h-full flex-col bg-base-200">
      <header className="flex h-[46px] shrink-0 items-center gap-4 bg-neutral px-5 text-neutral-content">
        <Link to="/" className="text-[17px] font-bold">
          Reamer
        </Link>
        <span className="grow opacity-80">{title}</span>
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
          {text}
        </Markdown>
      </main>
    </div>
  );
}

export const Guide = () => <Paper title="the guide" text={guide} />;
export const Checks = () => <Paper title="what was checked against what" text={checks} />;
