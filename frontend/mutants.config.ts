/** The page's tests with one fault planted, as `LARDER_PLANTED` says; only ./bench --mutants uses it. */
import { defineConfig, mergeConfig, type Plugin } from "vite";

import { faultsOf } from "./mutants.mjs";
import config from "./vite.config";

interface Wanted {
  file: string;
  number: number;
}

const wanted = JSON.parse(process.env.LARDER_PLANTED ?? "null") as Wanted | null;

const planting: Plugin = {
  name: "planting",
  enforce: "pre",
  transform(text, id) {
    if (!wanted || !id.split("?")[0]?.endsWith(`/${wanted.file}`)) return undefined;
    const fault = faultsOf(wanted.file, text)[wanted.number];
    if (!fault) throw new Error(`no fault ${wanted.number} in ${wanted.file}`);
    return { code: text.slice(0, fault.start) + fault.instead + text.slice(fault.end), map: null };
  },
};

export default defineConfig((env) => mergeConfig(config(env), { plugins: [planting] }));
