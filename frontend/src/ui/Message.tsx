// A page that has one thing to say, and the way back.
import { Link } from "react-router";

export function Message({ title, text }: { title: string; text: string }) {
  return (
    <div className="grid h-full place-items-center bg-base-200 p-8">
      <div className="max-w-md text-center">
        <h1 className="text-xl font-bold">{title}</h1>
        <p className="my-3">{text}</p>
        <Link className="act" to="/">
          All plans
        </Link>
      </div>
    </div>
  );
}
