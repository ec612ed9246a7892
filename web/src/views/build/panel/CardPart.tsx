/** Card of its own: which, on foam or flat, how many glued into a stack, and on what it lies. */
import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import type { Thing } from "../../../api/client";
import { useStocks } from "../../../api/hooks";
import { Select } from "../../../parts/Select";
import { Choices } from "../../../parts/Choices";
import { LengthField } from "../../../parts/LengthField";
import { useShared } from "../context";

const FOAM = [
  ["0", "Flat"],
  ["1", "1 mm"],
  ["2", "2 mm"],
  ["3", "3 mm"],
] as const;

export function CardPart({ thing }: { thing: Thing }) {
  const { state, units, change } = useShared();
  const stocks = useStocks();
  const card = thing.card;
  const set = (values: Record<string, unknown> | null) =>
    change("set_thing", { thing: thing.key, card: values });
  if (!card) {
    const label =
      thing.kind === "words"
        ? "Cut the words from card"
        : thing.set_kind === "die-cut"
          ? "Its pieces are card"
          : "Cut it out as a piece of card";
    const allowance = thing.kind === "words" || thing.set_kind === "die-cut" ? 0 : 1.5;
    return (
      <Box>
        <Button variant="outlined" onClick={() => set({ stock: state.stock, allowance })}>
          {label}
        </Button>
      </Box>
    );
  }
  return (
    <Box sx={{ display: "flex", gap: 1, flexWrap: "wrap", alignItems: "center" }}>
      <Select
        label="Its card"
        value={card.stock}
        options={(stocks.data ?? []).map((c) => [c.key, c.name] as const)}
        onChoose={(stock) => set({ stock })}
        minWidth={150}
      />
      <Choices
        label="Foam beneath"
        value={String(card.foam) as "0"}
        options={FOAM as unknown as readonly (readonly ["0", string])[]}
        onChoose={(foam) => set({ foam: Number(foam) })}
        button={{ px: 1 }}
      />
      <Select
        label="Stacked"
        value={card.copies}
        options={[1, 2, 3, 4, 5, 6].map((n) => [n, n === 1 ? "Once" : `${n} times`] as const)}
        onChoose={(copies) => set({ copies })}
        width={92}
      />
      {thing.kind !== "piece" && thing.set_kind !== "die-cut" && (
        <LengthField
          label="Left around"
          mm={card.allowance}
          units={units}
          low={0}
          high={20}
          onSet={(allowance) => set({ allowance })}
        />
      )}
      {thing.kind !== "piece" && (
        <Button variant="text" onClick={() => set(null)}>
          Not cut from card
        </Button>
      )}
      {thing.set_kind === "die-cut" && <Pieces thing={thing} />}
    </Box>
  );
}

/** Each piece of a die-cut may be cut from another card, and lie higher or lower. */
function Pieces({ thing }: { thing: Thing }) {
  const { change } = useShared();
  const stocks = useStocks();
  const own = new Map(thing.cards.map((c) => [c.sheet, c]));
  const put = (sheet: number, values: Record<string, unknown>) => {
    const now = own.get(sheet) ?? thing.card;
    const rest = thing.cards.filter((c) => c.sheet !== sheet);
    change("set_thing", { thing: thing.key, cards: [...rest, { ...now, ...values, sheet }] });
  };
  return (
    <Box component="ul" aria-label="Its pieces" sx={{ width: "100%", display: "grid", gap: 0.75 }}>
      {thing.all_sheets
        .filter((s) => thing.sheets.includes(s.number))
        .map((s) => (
          <Box
            component="li"
            key={s.number}
            sx={{ display: "flex", gap: 1, alignItems: "center", flexWrap: "wrap" }}
          >
            <Box component="span" sx={{ flex: "1 1 110px", fontSize: 14 }}>
              {s.number} {s.name}
            </Box>
            <Select
              label={`Card of ${s.name}`}
              value={(own.get(s.number) ?? thing.card)?.stock ?? ""}
              options={(stocks.data ?? []).map((k) => [k.key, k.name] as const)}
              onChoose={(stock) => put(s.number, { stock })}
              width={138}
            />
            <Select
              label="Foam"
              value={(own.get(s.number) ?? thing.card)?.foam ?? 0}
              options={[0, 1, 2, 3].map((n) => [n, n ? `${n} mm` : "Flat"] as const)}
              onChoose={(foam) => put(s.number, { foam })}
              width={84}
            />
          </Box>
        ))}
    </Box>
  );
}

/** On the panel, or on a piece: then it goes with it, and is cut away at its edge. */
export function LiesOn({ thing }: { thing: Thing }) {
  const { set, change } = useShared();
  const pieces = set.things.filter((t) => t.key !== thing.key && t.card && t.set_kind !== "die-cut");
  if (!pieces.length) return null;
  return (
    <Select
      label="Lies on"
      value={thing.on}
      none="the panel"
      options={pieces.map((p) => [p.key, p.name] as const)}
      onChoose={(on) => change("set_thing", { thing: thing.key, on })}
      minWidth={160}
    />
  );
}
