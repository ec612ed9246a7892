/** The steps, gathered under the sheet that is seated; what is the same on several cards is told once. */
import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import ButtonBase from "@mui/material/ButtonBase";
import Paper from "@mui/material/Paper";
import Typography from "@mui/material/Typography";
import type { Laid, OrderOfWork, Rung, Step, Visit } from "../../../api/client";
import { Chip } from "../../../parts/Dab";
import { minutes } from "../../../parts/lengths";
import { PartByPart } from "../../../parts/PartByPart";
import { capital } from "../../../parts/words";
import { greys } from "../../../theme/theme";
import { useShared } from "../context";
import { Why } from "./Why";
import { useCarried } from "./carried";

/** What a seat is called: the part of a set, and of which where it is not the first. */
export function titleOf(set: Pick<Laid, "sheets" | "things">, number: number | null): string {
  const sheet = set.sheets.find((s) => s.number === number);
  if (!sheet) return "First";
  if (sheet.kind === "free") return "The bare panel";
  if (sheet.kind === "words" || sheet.kind === "card") return sheet.name;
  const first = set.things.find((t) => t.kind === "set");
  const of = first?.key === sheet.thing ? "" : ` of ${set.things.find((t) => t.key === sheet.thing)?.name}`;
  return `${capital(sheet.nouns.one)} ${sheet.called}${of}: ${sheet.name}`;
}

/** Cards as people say them: 1, 2 to 12. */
export function cardsSaid(cards: number[], all: number): string {
  if (all < 2 || !cards.length) return "";
  if (cards.length === all) return `all ${all} cards`;
  const sorted = [...cards].sort((a, b) => a - b);
  const row = sorted.every((c, i) => i === 0 || c === (sorted[i - 1] ?? 0) + 1);
  if (sorted.length === 1) return `card ${sorted[0]}`;
  return row ? `cards ${sorted[0]} to ${sorted.at(-1)}` : `cards ${sorted.join(", ")}`;
}

interface Props {
  order: OrderOfWork;
  set: Laid;
  rungs: Map<string, Rung>;
  card: string;
  at: number;
  onChoose: (place: number) => void;
}

export function Visits({ order, set, rungs, card, at, onChoose }: Props) {
  const { change } = useShared();
  // of several cards the steps are told once and stand in many places: there pins are made by asking a step
  const carried = useCarried(order.cards === 1, (pins) =>
    change("several", { edits: pins.map((values) => ({ kind: "pin_order", values })) }),
  );
  return (
    <PartByPart>
      {order.visits.map((visit, n) => (
        <Paper
          variant="card"
          component="section"
          key={visit.first}
          {...carried({ place: visit.first, passes: passesOf(visit) })}
        >
          <Title
            visit={visit}
            set={set}
            order={order}
            before={order.visits[n - 1]}
            back={backFrom(order, n)}
          />
          <Box component="ol">
            {visit.steps.map((step, i) => {
              const place = visit.first + i;
              return (
                <Box
                  component="li"
                  key={step.key}
                  data-pass={step.pass_key ?? undefined}
                  sx={{
                    borderTop: `1px solid ${greys.ground}`,
                    "&[data-over]": { borderTopColor: greys.ink },
                  }}
                  {...(step.pass_key ? carried({ place, passes: [step.pass_key] }) : {})}
                >
                  <Row
                    step={step}
                    number={place + 1}
                    rung={step.pass_key ? rungs.get(step.pass_key) : undefined}
                    card={card}
                    chosen={place === at}
                    onChoose={() => onChoose(place)}
                  />
                  {place === at && step.kind !== "wait" && step.kind !== "prep" && (
                    <Why order={order} place={place} pass={step.pass_key} others={othersOf(visit, step)} />
                  )}
                </Box>
              );
            })}
          </Box>
        </Paper>
      ))}
    </PartByPart>
  );
}

const passesOf = (visit: Visit) => visit.steps.flatMap((s) => (s.pass_key ? [s.pass_key] : []));

/** The other passes that are done in the same visit. */
const othersOf = (visit: Visit, step: Step) => passesOf(visit).filter((key) => key !== step.pass_key);

/** The last pass that was done through this visit's sheet before it, if it is a return. */
export function backFrom(order: Pick<OrderOfWork, "visits">, n: number): string | undefined {
  const sheet = order.visits[n]?.steps.find((s) => s.pass_key)?.sheet;
  const own = order.visits[n] ? passesOf(order.visits[n]) : [];
  const before = order.visits.slice(0, n).flatMap((v) => v.steps.filter((s) => s.pass_key));
  return (
    before.reverse().find((s) => s.sheet === sheet && !own.includes(s.pass_key ?? ""))?.pass_key ?? undefined
  );
}

/** The pins by which one visit comes before another: all of its passes before the first of the other's. */
export function pinsBefore(visit: Visit, other: Visit): { before: string; after: string }[] {
  const first = other.steps.find((s) => s.pass_key)?.pass_key;
  const own = passesOf(visit);
  return first ? own.filter((key) => key !== first).map((before) => ({ before, after: first })) : [];
}

interface TitleProps {
  visit: Visit;
  set: Laid;
  order: OrderOfWork;
  before: Visit | undefined;
  /** Where it is a return: the last pass before through the same sheet. */
  back: string | undefined;
}

function Title({ visit, set, order, before, back }: TitleProps) {
  const { change } = useShared();
  const { cards } = order;
  const passes = passesOf(visit);
  const apart = order.returns.some((r) => r.passes.some((key) => passes.includes(key)));
  const first = visit.steps[0];
  const on = cardsSaid(visit.cards, cards);
  const pins = before && cards === 1 ? pinsBefore(visit, before) : [];
  const other = before?.steps[0]?.kind === "place" ? titleOf(set, before.steps[0].sheet).split(":")[0] : "";
  return (
    <Box sx={{ display: "flex", alignItems: "baseline", gap: 1, px: 2, pt: 1.25, pb: 0.5 }}>
      <Typography variant="h3" component="h2" sx={{ flex: 1 }}>
        {first?.kind === "place" ? titleOf(set, first.sheet) : "First"}
        {first?.copy === 2 && ", your second copy"}
        {on && `, ${on}`}
      </Typography>
      {pins.length > 0 && other && (
        <Button
          variant="text"
          onClick={() => change("several", { edits: pins.map((values) => ({ kind: "pin_order", values })) })}
          sx={{ fontSize: 13, py: 0 }}
        >
          Before {other.toLowerCase()}
        </Button>
      )}
      {apart && <Typography variant="caption">kept apart</Typography>}
      {back && !apart && (
        <Button
          variant="text"
          onClick={() => change("keep_apart", { passes, after: back })}
          sx={{ fontSize: 13, py: 0 }}
        >
          Keep this return apart
        </Button>
      )}
      <Typography variant="caption" sx={{ color: greys.quiet }}>
        {minutes(visit.minutes)}
      </Typography>
    </Box>
  );
}

interface RowProps {
  step: Step;
  number: number;
  rung: Rung | undefined;
  card: string;
  chosen: boolean;
  onChoose: () => void;
}

function Row({ step, number, rung, card, chosen, onChoose }: RowProps) {
  return (
    <ButtonBase
      onClick={onChoose}
      aria-pressed={chosen}
      sx={{
        width: "100%",
        display: "grid",
        gridTemplateColumns: "28px 62px 36px 1fr auto",
        columnGap: 1,
        alignItems: "center",
        textAlign: "left",
        px: 2,
        py: 0.75,
        bgcolor: chosen ? greys.white : "transparent",
        font: "inherit",
      }}
    >
      <Typography variant="caption" sx={{ color: greys.quiet }}>
        {number}
      </Typography>
      <Typography variant="body2" sx={{ fontWeight: 640 }}>
        {step.word}
      </Typography>
      {rung ? <Chip colour={rung.alone.hex} card={card} /> : <span />}
      <Box sx={{ minWidth: 0 }}>
        <Typography variant="body2">
          {step.who > 1 && "Second pair of hands: "}
          {step.sentence}
        </Typography>
        {step.reasons.map((reason) => (
          <Typography key={reason} variant="caption" component="div" sx={{ color: greys.quiet }}>
            {reason}
          </Typography>
        ))}
        {step.caution && (
          <Typography variant="caption" component="div" sx={{ fontWeight: 600 }}>
            {step.caution}
          </Typography>
        )}
        {chosen && step.how && (
          <Typography variant="caption" component="div">
            How the time is found: {step.how}
          </Typography>
        )}
      </Box>
      <Typography variant="body2" sx={{ whiteSpace: "nowrap" }}>
        {minutes(step.minutes)}
      </Typography>
    </ButtonBase>
  );
}
