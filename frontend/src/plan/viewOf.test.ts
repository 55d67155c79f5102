import { describe, expect, it } from "vitest";

import { viewOf } from "./viewOf";

describe("the view of a place", () => {
  it("is the stage that shows it", () => {
    expect(viewOf("plan/brief/seats/edit/name")).toBe("brief");
    expect(viewOf("catalogue/formats/camera/name")).toBe("brief");
    expect(viewOf("catalogue/drives/disk-16/name")).toBe("catalogue");
    expect(viewOf("plan/wiring/links")).toBe("wiring");
    expect(viewOf("plan/safekeeping/copies")).toBe("safeguard");
    expect(viewOf("plan/caches/flash/bays")).toBe("tiers");
    expect(viewOf("plan/purchases")).toBe("tiers");
    expect(viewOf("house_rules/rush_odds")).toBe("house-rules");
  });
});
