/** The picture of a step: the card as it really is, and as it will be after this pass. */
import Box from "@mui/material/Box";
import { useMemo, useState } from "react";
import { binary, type Laid, type State, type Table as Packet } from "../../../api/client";
import { Painter } from "../../../painting/Painter";
import { Choices } from "../../../parts/Choices";
import { Overlays } from "../../../parts/Overlays";
import { PanelPicture } from "../../../parts/PanelPicture";
import { PICTURE_WIDTH } from "../useBuild";
import { LARGER } from "./big";
import type { TableHandle } from "./useTable";

/** The card as it really is, and after this pass. */
export function TablePicture({
  id,
  table,
  state,
  set,
  plain,
}: {
  id: number;
  table: TableHandle;
  state: State;
  set: Laid;
  plain: Painter;
}) {
  const { step, steps, at } = table;
  const packet = table.table as Packet;
  const number =
    step?.card ||
    (steps
      .slice(0, at)
      .filter((s) => s.card)
      .at(-1)?.card ??
      1);
  const really = packet.changed ? packet.cards.find((c) => c.number === number) : undefined;
  const own = really?.number ?? 0;
  // a card that went its own way has a picture of its own
  const painter = useMemo(
    () =>
      own
        ? new Painter(id, PICTURE_WIDTH, (path, body) =>
            binary(path.replace(`/${id}/`, `/${id}/table/`) + `&card=${own}`, body),
          )
        : plain,
    [id, own, plain],
  );
  const [look, setLook] = useState<{ step: string | null; to: Look }>({ step: null, to: "now" });
  const { inked } = step ?? {};
  const groups = set.sheets.flatMap((s) => s.groups);
  const marked = inked
    ? groups.find((g) => g.element === inked.element && g.sheet === inked.sheet)
    : undefined;
  const shown: Look = inked && look.step === step?.key ? look.to : "now";
  const done = step?.card
    ? step.done_before
    : steps.filter((s) => s.done.length && s.kind === "ink" && s.card === number).length;
  return (
    <Box
      sx={{
        height: { xs: "46dvh", md: "100%" },
        display: "flex",
        flexDirection: "column",
        gap: 1,
        alignItems: "center",
      }}
    >
      <Box sx={{ ...LARGER, flex: 1, minHeight: 0, width: "100%" }}>
        <PanelPicture
          painter={painter}
          picture={really?.picture ?? state.picture_key}
          after={shown === "now" ? done : done + 1}
          wet={shown === "wet"}
          alt={step ? LOOKS[shown].alt : "The finished panel"}
          set={set}
          marked={shown === "now" ? (marked ?? null) : null}
        >
          {step && shown === "now" && <Overlays step={step} set={set} />}
        </PanelPicture>
      </Box>
      {inked && <Looks shown={shown} onShow={(to) => setLook({ step: step?.key ?? null, to })} />}
    </Box>
  );
}

type Look = "now" | "wet" | "dry";

const LOOKS: Record<Look, { label: string; alt: string }> = {
  now: { label: "Now", alt: "The panel as it should look now; the openings to fill are marked" },
  wet: { label: "After, wet", alt: "The panel after this pass, while the ink is wet" },
  dry: { label: "After, dry", alt: "The panel after this pass, dried" },
};

/** What the card looks like before this pass, just after it, and once it has dried back. */
function Looks({ shown, onShow }: { shown: Look; onShow: (look: Look) => void }) {
  return (
    <Choices
      apart
      label="Show the panel"
      value={shown}
      options={(Object.keys(LOOKS) as Look[]).map((look) => [look, LOOKS[look].label] as const)}
      onChoose={onShow}
      button={{ minHeight: 64, fontSize: 20, px: 0.5 }}
      sx={{ display: "grid", gridTemplateColumns: "repeat(3, 1fr)", gap: 1, width: "100%", maxWidth: 480 }}
    />
  );
}
