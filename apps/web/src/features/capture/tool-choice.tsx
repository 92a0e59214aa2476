import { toolKindFor, USUAL_TOOLS, type Role, type ScaledTool } from '@jarro/core';
import { useState } from 'react';
import { useToolsQuery, useToolUsedMutation } from '../../app/api';
import { Button } from '../../ui/button';
import { OwnTool } from './own-tool';

const FILE = 'file';
const OWN = 'own';

const KIND_NAMES = { clamp: 'clamp', transducer: 'transducer', probe: 'probe' } as const;

/** Which clamp, transducer or probe a channel came through: the shop's own first, then the usual ones, then one's own. */
export function ToolChoice({
  name,
  unit,
  role,
  tool,
  question,
  onChange,
}: {
  /** The channel's. */
  name: string;
  unit: string;
  role: Role;
  tool: ScaledTool | undefined;
  /** What is asked where the file's unit can't be right. */
  question: string | undefined;
  onChange: (tool: ScaledTool | undefined) => void;
}) {
  const { data: tools = [] } = useToolsQuery();
  const [used] = useToolUsedMutation();
  const [makesOwn, setMakesOwn] = useState(false);
  const kind = toolKindFor(role);
  const shops = tools.filter((one) => one.kind === kind);
  const usual = USUAL_TOOLS.filter((one) => one.kind === kind);
  const choose = (next: ScaledTool) => {
    const own = shops.find((one) => one === next);
    if (own) void used(own.id);
    setMakesOwn(false);
    onChange(next);
  };
  const offered = [...shops, ...usual];
  const chosen = tool
    ? String(offered.findIndex((one) => one.name === tool.name && one.voltsPerUnit === tool.voltsPerUnit))
    : FILE;
  return (
    <div className="space-y-2">
      <select
        aria-label={`${name} was taken with`}
        className="input"
        value={makesOwn || chosen === '-1' ? OWN : chosen}
        onChange={({ target: { value } }) => {
          if (value === OWN) return setMakesOwn(true);
          setMakesOwn(false);
          if (value === FILE) onChange(undefined);
          else choose(offered[Number(value)]);
        }}
      >
        <option value={FILE}>{unit === '1' ? 'numbers as they are' : `as the file says, ${unit}`}</option>
        {shops.length > 0 && (
          <optgroup label="The shop’s">
            {shops.map((one, i) => (
              <option key={one.id} value={i}>
                {one.name}
              </option>
            ))}
          </optgroup>
        )}
        <optgroup label="Usual">
          {usual.map((one, i) => (
            <option key={one.name} value={shops.length + i}>
              {one.name}
            </option>
          ))}
        </optgroup>
        <option value={OWN}>{chosen === '-1' ? tool?.name : `another ${KIND_NAMES[kind]} …`}</option>
      </select>
      {question && !tool && !makesOwn && (
        <div className="space-y-2">
          <p className="font-semibold text-rust">{question}</p>
          <div className="flex flex-wrap gap-2" role="group" aria-label="Usual scales">
            {kind !== 'probe' &&
              offered.map((one) => (
                <Button key={one.name} className="border-ink" onClick={() => choose(one)}>
                  {one.name}
                </Button>
              ))}
          </div>
        </div>
      )}
      {makesOwn && (
        <OwnTool
          kind={kind}
          onMade={(own) => {
            setMakesOwn(false);
            onChange(own);
          }}
        />
      )}
    </div>
  );
}
