import type { ShapePlan } from "@/core/shape/shapePlan";
import { type ShapeSurvey, standsInTheWay } from "@/core/shape/survey";

/** How many are remembered: those that somebody may still be looking at. */
const MOST = 50;

/** Surveys in which nothing stood in the way, with the state of the file each was made in: what they say need not be found out again in that state. */
export class Surveys {
  private readonly known = new Map<string, string>();

  keep(plan: ShapePlan, survey: ShapeSurvey & { state: string }): void {
    if (standsInTheWay(survey, plan)) return;
    this.known.set(this.name(plan, survey.digest), survey.state);
    const [oldest] = this.known.keys();
    if (this.known.size > MOST && oldest !== undefined) this.known.delete(oldest);
  }

  /** @returns the state of the file; null where there is none of this plan that came to the same */
  stateOf(plan: ShapePlan, digest: string): string | null {
    return this.known.get(this.name(plan, digest)) ?? null;
  }

  private name(plan: ShapePlan, digest: string): string {
    return `${digest} ${JSON.stringify(plan)}`;
  }
}
