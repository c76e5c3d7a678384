// House rules: every threshold and factor, ours beside the coach's own.

import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { Button, Checkbox, Input } from "antd";
import { type FormEvent, useEffect, useRef, useState } from "react";
import { useLocation } from "react-router";
import { v7 as uuid } from "uuid";
import { answered, api, type Schemas } from "../../app/api";
import { keys } from "../../app/keys";
import { ZONE } from "../../app/local";
import { useWords, type Words } from "../../app/vocabulary";
import { clock, day } from "../../ui/day";
import { FormTrouble } from "../../ui/FormTrouble";
import { typed } from "../../ui/Measured";
import { Loading, Trouble } from "../../ui/Notice";
import css from "./HouseRulesPage.module.css";
import { ReferenceLevels } from "./ReferenceLevels";
import { WarmUpList } from "./WarmUpList";

type Rule = Schemas["RuleView"];

export function useHouseRules() {
  return useQuery({
    queryKey: keys.houseRules,
    queryFn: () => answered(api.GET("/api/v1/house-rules")),
  });
}

export function HouseRulesPage() {
  const words = useWords();
  const found = useHouseRules();
  if (found.isError) return <Trouble error={found.error} retry={found.refetch} />;
  if (!found.data || !words) return <Loading />;
  const { rules, changes, warm_up, warm_up_is_ours } = found.data;
  const { reference_levels, reference_levels_are_ours } = found.data;
  const groups = [...new Set(rules.map((rule) => rule.group))];
  const own = rules.filter((rule) => rule.changed).length;
  return (
    <div className="page rules">
      <div className="page-head">
        <div>
          <h1>House rules</h1>
          <p className="quiet">
            {own === 0
              ? "All as we set them. Whatever you change is used from then on, and everything on screen is computed anew."
              : `${own} ${own === 1 ? "rule is" : "rules are"} your own; the others as we set them.`}
          </p>
        </div>
        <nav className={css.jump} aria-label="Groups">
          {groups.map((group) => (
            <a key={group} href={`#${group}`}>
              {group}
            </a>
          ))}
          <a href="#warm-up">Warm-up</a>
          <a href="#reference-levels">Reference levels</a>
          <a href="#history">History</a>
        </nav>
      </div>
      {groups.map((group) => (
        <section key={group} aria-labelledby={group}>
          <h2 id={group}>{group}</h2>
          <ul className={`rule-list ${css.ruleList}`}>
            {rules
              .filter((rule) => rule.group === group)
              .map((rule) => (
                <RuleRow key={rule.key} rule={rule} words={words} />
              ))}
          </ul>
        </section>
      ))}
      <section aria-labelledby="warm-up">
        <h2 id="warm-up">Warm-up</h2>
        <WarmUpList movements={warm_up} ours={warm_up_is_ours} />
      </section>
      <section aria-labelledby="reference-levels">
        <h2 id="reference-levels">Reference levels</h2>
        <ReferenceLevels
          key={`${words.units} ${JSON.stringify(reference_levels)}`}
          levels={reference_levels}
          ours={reference_levels_are_ours}
          words={words}
        />
      </section>
      <section aria-labelledby="history">
        <h2 id="history">History</h2>
        {changes.length === 0 ? (
          <p className="quiet">Nothing was changed.</p>
        ) : (
          <ol className="record">
            {changes.map((change) => {
              const rule = rules.find((r) => r.key === change.key);
              const zone = ZONE;
              return (
                <li key={`${change.key}${change.changed_at}`}>
                  {rule?.label ?? change.key}:{" "}
                  {change.value == null || !rule
                    ? "ours again"
                    : shownValue(rule, change.value, words)}
                  <small>
                    {day(change.changed_at, zone)}, {clock(change.changed_at, zone)}, {change.coach}
                  </small>
                </li>
              );
            })}
          </ol>
        )}
      </section>
    </div>
  );
}

/** How a rule's kind is typed: its unit in requests, on screen, and how many internal
 * units one is. */
function unitOf(rule: Rule, words: Words): { suffix: string; symbol: string; size: number } {
  const { kind } = rule;
  switch (kind.kind) {
    case "of":
      return {
        suffix: words.suffix(kind.of),
        symbol: words.symbol(kind.of),
        size: words.internal(kind.of, 1),
      };
    case "share":
      return { suffix: "pct", symbol: "%", size: 0.01 };
    case "seconds":
      return { suffix: "s", symbol: "s", size: 1 };
    case "height_per_speed":
      return { suffix: "ft_per_mph", symbol: "ft per mph", size: 0.3048 / 0.44704 };
    default:
      return { suffix: "", symbol: "", size: 1 };
  }
}

function bareValue(rule: Rule, value: number, words: Words): string {
  const { size } = unitOf(rule, words);
  return String(Math.round((value / size) * 1000) / 1000);
}

function shownValue(rule: Rule, value: number, words: Words): string {
  if (rule.kind.kind === "yes_no") return value >= 0.5 ? "yes" : "no";
  const { symbol } = unitOf(rule, words);
  const space = symbol === "" || symbol === "°" ? "" : " ";
  return `${bareValue(rule, value, words)}${space}${symbol}`;
}

function RuleRow({ rule, words }: { rule: Rule; words: Words }) {
  const [text, setText] = useState<string>();
  const queries = useQueryClient();
  const change = useMutation({
    mutationFn: (given: Schemas["Given"] | null) =>
      answered(
        api.PUT("/api/v1/house-rules/{key}", {
          params: { path: { key: rule.key } },
          body: { id: uuid(), given },
        }),
      ),
    onSuccess: () => {
      setText(undefined);
      queries.invalidateQueries();
    },
  });
  const { suffix, symbol } = unitOf(rule, words);
  const take = () =>
    rule.seen &&
    change.mutate({ value: typed(bareValue(rule, rule.seen.value, words)), unit: suffix });
  const submit = (event: FormEvent) => {
    event.preventDefault();
    if (text !== undefined) change.mutate({ value: typed(text), unit: suffix });
  };
  // Found by its name, it comes into view.
  const meant = useLocation().hash === `#${rule.key}`;
  const row = useRef<HTMLLIElement>(null);
  useEffect(() => {
    if (meant) row.current?.scrollIntoView({ block: "center" });
  }, [meant]);
  const marks = [rule.changed && css.own, meant && css.meant].filter(Boolean).join(" ");
  return (
    <li ref={row} className={marks}>
      <div>
        <span className={css.ruleLabel} id={`rule-${rule.key}`}>
          {rule.label}
        </span>
        <small>
          {rule.source} Ours: {shownValue(rule, rule.ours, words)}.
          {rule.seen && (
            <>
              {" "}
              Your players: {shownValue(rule, rule.seen.value, words)}, the middle of{" "}
              {rule.seen.players}.{" "}
              <button type="button" className="link" onClick={take}>
                Take it
              </button>
            </>
          )}
        </small>
        <FormTrouble error={change.error} />
      </div>
      {rule.kind.kind === "yes_no" ? (
        <Checkbox
          aria-labelledby={`rule-${rule.key}`}
          checked={rule.value >= 0.5}
          onChange={(e) => change.mutate({ value: e.target.checked ? 1 : 0, unit: "" })}
        />
      ) : (
        <form onSubmit={submit}>
          <Input
            aria-label={rule.label}
            value={text ?? bareValue(rule, rule.value, words)}
            suffix={symbol}
            onChange={(e) => setText(e.target.value)}
            inputMode="decimal"
          />
          {text !== undefined && (
            <Button htmlType="submit" loading={change.isPending}>
              Save
            </Button>
          )}
        </form>
      )}
      {rule.changed && (
        <button type="button" className="link" onClick={() => change.mutate(null)}>
          Ours again
        </button>
      )}
    </li>
  );
}
