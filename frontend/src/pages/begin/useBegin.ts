import { useMutation } from "@tanstack/react-query";
import { useNavigate } from "react-router";

import { client, dataOf, type NewPlan } from "../../api/client";

/** Begins a plan and goes to its brief, or from a line straight to designs; one without a name is a new plan. */
export function useBegin(studio: string) {
  const navigate = useNavigate();
  return useMutation({
    mutationFn: (wanted: NewPlan) =>
      dataOf(
        client.POST("/api/studios/{studio}/plans", {
          params: { path: { studio } },
          body: { line: "", starting_point: "", ...wanted, name: wanted.name.trim() || "New plan" },
        }),
      ),
    onSuccess: ({ id }, { line }) =>
      navigate(`/s/${studio}/plans/${id}/${line ? "school" : "brief"}`),
  });
}
