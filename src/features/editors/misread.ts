import type { Locale } from "@/core/types/format";
import { writeTyped, writeTypedNumber } from "@/core/types/typed";
import { isDated, type ValueType } from "@/core/types/valueType";
import { WORDS } from "./words";

/** Says of what was typed that it is no value of a type, with one as it is typed here. @param day today */
export const misread = (typed: string, type: ValueType, locale: Locale, day: string): string =>
  isDated(type) ? WORDS.notADate(typed, writeTyped(type, day, locale)) : WORDS.notANumber(typed, writeTypedNumber("1234.5", locale));
