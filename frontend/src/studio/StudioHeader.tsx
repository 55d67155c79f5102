import { useQueryClient } from "@tanstack/react-query";
import { NavLink } from "react-router";

import { api, SESSION, type Session } from "../api/client";
import { Mark } from "../kit/Mark";
import { ThemeSwitch } from "../kit/ThemeSwitch";
import { Button } from "../kit/Button";

/** The head of a studio's own pages: where one is, who one is, and the way out. */
export function StudioHeader({ session, studio }: { session: Session; studio: string }) {
  const queries = useQueryClient();
  const mine = session.studios.find((s) => s.slug === studio);
  const signOut = api.useMutation("delete", "/api/session", {
    onSuccess: (none) => {
      queries.clear();
      queries.setQueryData(SESSION, none);
    },
  });
  const link = "underline-offset-4 aria-[current=page]:font-semibold aria-[current=page]:underline";
  return (
    <header className="flex flex-wrap items-center gap-x-4 gap-y-1 bg-neutral px-5 py-3 text-neutral-content">
      <Mark />
      <span className="wide-only font-[Bricolage_Grotesque_Variable] text-lg font-bold">
        Grand Larder
      </span>
      <span className="wide-only text-sm opacity-80">{mine?.name}</span>
      <nav aria-label="Studio" className="flex gap-4">
        <NavLink className={link} to={`/s/${studio}/plans`}>
          Plans
        </NavLink>
        <NavLink className={link} to={`/s/${studio}/stock`}>
          Stock
        </NavLink>
      </nav>
      <div className="ml-auto flex items-center gap-3 text-sm">
        {signOut.isError && <span role="alert">{signOut.error.sentence}</span>}
        <span className="wide-only">
          {session.person}
          {mine && mine.role !== session.person ? `, ${mine.role}` : ""}
        </span>
        <span className="wide-only">
          <ThemeSwitch />
        </span>
        <Button onClick={() => signOut.mutate({})}>Sign out</Button>
      </div>
    </header>
  );
}
