// A page that has one thing to say, and the way back.
import type { ReactNode } from "react";
import { Link } from "react-router";

/** ``children``: what may be done about it, before the way back. */
export function Message({ title, text, children }: { title: string; text: string; children?: ReactNode }) {
  return (
    <div className="grid h-full place-items-center bg-base-200 p-8">
      <div className="max-w-md text-center">
        <h1 className="text-xl font-bold">{title}</h1>
        <p className="my-3">{text}</p>
        <div className="flex justify-center gap-2">
          {children}
          <Link className="act" to="/">
            All plans
          </Link>
        </div>
      </div>
    </div>
  );
}
