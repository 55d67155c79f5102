import { useQueryClient } from "@tanstack/react-query";
import { useEffect, useRef, type SubmitEvent } from "react";

import { api, SESSION } from "../api/client";
import { Beam } from "../kit/Beam";
import { Mark } from "../kit/Mark";
import { ThemeSwitch } from "../kit/ThemeSwitch";
import { Input } from "../kit/Input";
import { Problem } from "../kit/Problem";
import { Button } from "../kit/Button";

const WEIGHED = [
  ["Speed", "the one hop that limits everyone behind it", 1.5],
  ["Space", "from the carton's number to what may be planned with", 1.25],
  ["Safety", "how many drives may fail with nothing lost", 1.8],
  ["Money", "what is spent of the budget, per plannable TB", 1.12],
] as const;

/** What is weighed here, and the door. */
export function SignInPage() {
  return (
    <div className="grid min-h-dvh grid-rows-[auto_1fr]">
      <header className="flex items-center gap-3 bg-neutral px-5 py-3 text-neutral-content">
        <Mark />
        <span className="font-[Bricolage_Grotesque_Variable] text-lg font-bold">Grand Larder</span>
        <span className="ml-auto">
          <ThemeSwitch />
        </span>
      </header>
      <main className="mx-auto grid w-full max-w-4xl items-center gap-12 p-8 md:grid-cols-[3fr_2fr]">
        <div>
          <h1 className="text-3xl leading-tight">
            Shared storage for people who edit, weighed before it is bought
          </h1>
          <p className="mt-4 max-w-prose">
            What you need, what will hold you back, what it costs, and what can go wrong: change a
            number and the four scales answer at once.
          </p>
          <ul className="mt-6 space-y-2">
            {WEIGHED.map(([name, words, ratio]) => (
              <li key={name} className="flex items-center gap-4">
                <Beam verdict="enough" ratio={ratio} size={48} />
                <span>
                  <b className="font-semibold">{name}</b>: {words}
                </span>
              </li>
            ))}
          </ul>
        </div>
        <SignIn />
      </main>
    </div>
  );
}

/** Name and password; what was typed stays where they do not belong together. */
function SignIn() {
  const queries = useQueryClient();
  const name = useRef<HTMLInputElement>(null);
  useEffect(() => name.current?.focus(), []);
  const signIn = api.useMutation("post", "/api/session", {
    onSuccess: (session) => queries.setQueryData(SESSION, session),
  });
  const submit = (event: SubmitEvent<HTMLFormElement>) => {
    event.preventDefault();
    const form = new FormData(event.currentTarget);
    const said = (name: string) => String(form.get(name));
    signIn.mutate({ body: { username: said("username"), password: said("password") } });
  };
  return (
    <form className="border-l-2 border-base-300 pl-8" onSubmit={submit}>
      <h2>Sign in</h2>
      <label className="mt-4 block">
        <span className="block">Name</span>
        <Input
          ref={name}
          name="username"
          className="mt-1 w-full"
          autoComplete="username"
          required
          maxLength={150}
        />
      </label>
      <label className="mt-3 block">
        <span className="block">Password</span>
        <Input
          name="password"
          type="password"
          className="mt-1 w-full"
          autoComplete="current-password"
          required
          maxLength={150}
        />
      </label>
      <Problem of={signIn.error} className="mt-2" />
      <Button look="primary" type="submit" className="mt-5 w-full" disabled={signIn.isPending}>
        Sign in
      </Button>
    </form>
  );
}
