import {
  DEFAULT_HOUSE_RULES,
  fromPascal,
  type HouseRules,
  NUMBER_RULES,
  type NumberRuleName,
  type RuleUnit,
  SCHOOL_RULES,
  type Shown,
  toPascal,
} from '@jarro/core';
import { useState } from 'react';
import { errorText, useChangeShopMutation, useMeQuery } from '../../app/api';
import type { PressureUnitName, ShopSettings } from '@jarro/api-types';
import { usePressureUnit } from '../../app/units';
import { Button } from '../../ui/button';
import { Choice, optionsOf } from '../../ui/choice';
import { ErrorNotice } from '../../ui/notice';
import { useMay } from '../session/use-may';

type SchoolRuleName = keyof typeof SCHOOL_RULES;

/** What this house holds to where practitioners differ, each rule with what it rests on. */
export function RulesPage() {
  const { data: me, error } = useMeQuery();
  if (!me) return <ErrorNotice text={errorText(error)} />;
  return <RulesForm key={me.shop.version} shop={me.shop} />;
}

function RulesForm({ shop }: { shop: ShopSettings }) {
  const [rules, setRules] = useState<HouseRules>(shop.rules);
  const [change, { error, isLoading }] = useChangeShopMutation();
  const editable = useMay()('manage');
  const changed = JSON.stringify(rules) !== JSON.stringify(shop.rules);
  const save = () => {
    void change({ ...shop, rules });
  };
  return (
    <main className="mx-auto max-w-[1080px] space-y-4 p-4">
      <header className="flex flex-wrap items-end justify-between gap-3">
        <div>
          <h1 className="text-3xl">House rules</h1>
          <p className="text-soft">
            Where practitioners differ, the shop decides. Every case of the shop is judged and planned by these from now
            on.
          </p>
        </div>
        {editable && (
          <div className="flex gap-2">
            <Button onClick={() => setRules(DEFAULT_HOUSE_RULES)}>What is usual</Button>
            <Button look="rust" onClick={save} disabled={isLoading || !changed}>
              Save the house rules
            </Button>
          </div>
        )}
      </header>
      <ErrorNotice text={errorText(error)} />
      {!editable && <p className="text-ochre">A lead sets these.</p>}
      <fieldset disabled={!editable} className="grid items-start gap-3 md:grid-cols-2">
        {(Object.keys(SCHOOL_RULES) as SchoolRuleName[]).map((name) => (
          <SchoolRule key={name} name={name} rules={rules} onChange={setRules} />
        ))}
        {(Object.keys(NUMBER_RULES) as NumberRuleName[]).map((name) => (
          <NumberRule key={name} name={name} value={rules[name]} onChange={(v) => setRules({ ...rules, [name]: v })} />
        ))}
      </fieldset>
    </main>
  );
}

function SchoolRule({
  name,
  rules,
  onChange,
}: {
  name: SchoolRuleName;
  rules: HouseRules;
  onChange: (rules: HouseRules) => void;
}) {
  const { title, schools, basis, source } = SCHOOL_RULES[name];
  return (
    <section aria-label={title} className="card p-4">
      <h2 className="mb-2 text-lg">{title}</h2>
      <Choice
        label={title}
        hideLabel
        options={optionsOf<string>(schools)}
        value={rules[name]}
        onChange={(value) => onChange({ ...rules, [name]: value })}
      />
      <Basis basis={basis} source={source} />
    </section>
  );
}

function NumberRule({
  name,
  value,
  onChange,
}: {
  name: NumberRuleName;
  value: number;
  onChange: (value: number) => void;
}) {
  const { title, least, most, unit, usual, basis, source } = NUMBER_RULES[name];
  const shown = ruleShown(unit, usePressureUnit());
  return (
    <section aria-label={title} className="card p-4">
      <div className="flex items-baseline justify-between gap-3">
        <h2 className="text-lg">{title}</h2>
        <label className="flex items-baseline gap-1.5">
          <span className="sr-only">
            {title} in {shown.unit}
          </span>
          <input
            type="number"
            className="input w-28 text-right text-2xl font-bold"
            min={shown.text(least)}
            max={shown.text(most)}
            step="any"
            value={shown.text(value)}
            onChange={(event) => onChange(shown.toSi(event.target.valueAsNumber || 0))}
          />
          <span aria-hidden>{shown.unit}</span>
        </label>
      </div>
      <div className="mt-2 flex flex-wrap gap-2">
        {usual.map((option) => (
          <Button
            key={option}
            look={Math.abs(option - value) < 1e-9 ? 'ink' : 'plain'}
            onClick={() => onChange(option)}
          >
            {shown.text(option)} {shown.unit}
          </Button>
        ))}
      </div>
      <Basis basis={basis} source={source} />
    </section>
  );
}

/** A rule in the units that people read it in. */
function ruleShown(unit: RuleUnit, pressure: PressureUnitName): Shown {
  switch (unit) {
    case 'share':
      return { unit: '%', toSi: (percent) => percent / 100, text: (share) => plain(100 * share) };
    case 'Pa':
    case 'Pa/min':
      return {
        unit: unit === 'Pa' ? pressure : `${pressure}/min`,
        toSi: (value) => toPascal(value, pressure),
        text: (pascal) => plain(fromPascal(pascal, pressure)),
      };
    case 'V':
    case 's':
    case 'L/h':
    case '%':
      return { unit, toSi: (value) => value, text: plain };
  }
}

/** Without the noise of conversions. */
function plain(value: number): string {
  return String(Number(value.toPrecision(3)));
}

function Basis({ basis, source }: { basis: string; source: string }) {
  return (
    <p className="mt-2 text-[0.93rem]">
      {basis} <span className="label block">Rests on: {source}</span>
    </p>
  );
}
