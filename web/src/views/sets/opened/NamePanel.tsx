/** Naming by pointing: what is chosen, which part it belongs to, what it is for. */
import Autocomplete from "@mui/material/Autocomplete";
import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import ButtonBase from "@mui/material/ButtonBase";
import TextField from "@mui/material/TextField";
import Typography from "@mui/material/Typography";
import { type RefObject, useMemo, useState } from "react";
import { greys, signal } from "../../../theme/theme";
import { SHEETS_ID } from "./sheetsSvg";
import { COMMANDS, type Naming, type NamingCommand, ROLE_COMMANDS } from "./naming";

interface Props {
  naming: Naming;
  nameInput: RefObject<HTMLInputElement | null>;
}

export function NamePanel({ naming, nameInput }: Props) {
  const { set, chosen, elements } = naming;
  const shapes = useMemo(
    () => set.sheets.flatMap((s) => s.shapes.map((o) => ({ ...o, sheet: s.number }))),
    [set],
  );
  const picked = shapes.filter((o) => chosen.includes(o.key));
  const names = [...new Set(picked.map((o) => o.element))];
  const unnamed = elements.filter((e) => /^part \d+$/.test(e)).length;
  return (
    <Box sx={{ display: "grid", gap: 1.5 }}>
      <Box sx={{ minHeight: 52 }} aria-live="polite">
        {picked.length === 0 ? (
          <Typography>
            Press an opening, or draw a loop around several. Hold Shift to add.
            {unnamed > 0 && ` ${unnamed} ${unnamed === 1 ? "part has" : "parts have"} no name yet.`}
          </Typography>
        ) : (
          <Typography>
            <strong>
              {picked.length} {picked.length === 1 ? "opening" : "openings"}
            </strong>{" "}
            of {names.slice(0, 3).join(", ")}
            {names.length > 3 && ` and ${names.length - 3} more`}, sheet{" "}
            {[...new Set(picked.map((o) => o.sheet))].join(", ")}
          </Typography>
        )}
      </Box>
      <MoveTo key={chosen.join()} naming={naming} names={names} nameInput={nameInput} />
      <Group label="They are">
        {ROLE_COMMANDS.map((c) => (
          <Key
            key={c.id}
            command={c}
            naming={naming}
            pressed={picked.length > 0 && picked.every((o) => o.role === c.id)}
          />
        ))}
      </Group>
      <Group label="Put right">
        {COMMANDS.map((c) => (
          <Key key={c.id} command={c} naming={naming} pressed={c.id === "split" && naming.cutting} />
        ))}
      </Group>
      {naming.cutting && (
        <Typography sx={{ color: signal, fontWeight: 600 }}>
          Draw a straight line right across the opening. Escape leaves it whole.
        </Typography>
      )}
      <Parts naming={naming} names={names} shapes={shapes} />
    </Box>
  );
}

function MoveTo({
  naming,
  names,
  nameInput,
}: {
  naming: Naming;
  names: string[];
  nameInput: Props["nameInput"];
}) {
  const [text, setText] = useState("");
  const name = () => {
    const wanted = text.trim();
    if (!wanted || !naming.chosen.length) return;
    void naming.edit("move", { openings: naming.chosen, element: wanted });
    setText("");
    // back to the sheets: the next one is an arrow away
    document.getElementById(SHEETS_ID)?.focus();
  };
  return (
    <Box
      component="form"
      onSubmit={(e) => {
        e.preventDefault();
        name();
      }}
      sx={{ display: "flex", gap: 1 }}
    >
      <Autocomplete
        freeSolo
        fullWidth
        autoHighlight={false}
        options={naming.elements.filter((e) => !/^part \d+$/.test(e))}
        inputValue={text}
        onInputChange={(_, value) => setText(value)}
        disabled={!naming.chosen.length}
        size="small"
        renderInput={(params) => (
          <TextField
            {...params}
            inputRef={nameInput}
            label={
              names.length === 1 && !/^part \d+$/.test(names[0] ?? "")
                ? "Another name or part (Enter)"
                : "Name this part (Enter)"
            }
          />
        )}
      />
      <Button type="submit" variant="contained" disabled={!text.trim() || !naming.chosen.length}>
        Name
      </Button>
    </Box>
  );
}

function Group({ label, children }: { label: string; children: React.ReactNode }) {
  return (
    <Box role="group" aria-label={label}>
      <Typography variant="caption" sx={{ color: greys.quiet }}>
        {label}
      </Typography>
      <Box sx={{ display: "flex", flexWrap: "wrap", gap: 0.5 }}>{children}</Box>
    </Box>
  );
}

function Key({ command, naming, pressed }: { command: NamingCommand; naming: Naming; pressed: boolean }) {
  return (
    <Button
      variant={pressed ? "contained" : "outlined"}
      aria-pressed={pressed}
      disabled={!command.enabled(naming)}
      title={`${command.hint} (${command.key.toUpperCase()})`}
      onClick={() => command.perform(naming)}
      sx={{ px: 1, gap: 0.75 }}
    >
      {command.label}
      <Box
        component="kbd"
        aria-hidden
        sx={{
          font: "inherit",
          fontSize: 11,
          border: "1px solid currentColor",
          borderRadius: 0.5,
          px: 0.5,
          lineHeight: 1.3,
          opacity: 0.7,
        }}
      >
        {command.key.toUpperCase()}
      </Box>
    </Button>
  );
}

function Parts({
  naming,
  names,
  shapes,
}: {
  naming: Naming;
  names: string[];
  shapes: { key: string; element: string; sheet: number }[];
}) {
  const pick = (element: string) =>
    naming.choose(shapes.filter((o) => o.element === element).map((o) => o.key));
  return (
    <Box>
      <Typography variant="caption" sx={{ color: greys.quiet }}>
        The parts{naming.chosen.length > 0 && ": a number gives them what is chosen"}
      </Typography>
      <Box
        component="ol"
        aria-label="The parts"
        sx={{
          maxHeight: 300,
          overflow: "auto",
          bgcolor: greys.sheet,
          border: `1px solid ${greys.line}`,
        }}
      >
        {naming.elements.map((element, i) => {
          const groups = naming.set.sheets.flatMap((s) => s.groups).filter((g) => g.element === element);
          const here = names.includes(element);
          return (
            <li key={element}>
              <ButtonBase
                onClick={() => pick(element)}
                aria-pressed={here}
                sx={{
                  width: "100%",
                  px: 1,
                  py: 0.6,
                  display: "grid",
                  gridTemplateColumns: "22px 1fr",
                  textAlign: "left",
                  borderLeft: `4px solid ${here ? signal : "transparent"}`,
                  borderBottom: `1px solid ${greys.line}`,
                }}
              >
                <Typography variant="caption" sx={{ color: greys.quiet }}>
                  {i < 9 ? i + 1 : ""}
                </Typography>
                <Box>
                  <Typography variant="body2" sx={{ fontWeight: 640 }}>
                    {element}
                  </Typography>
                  <Typography variant="caption">
                    {groups.map((g) => `sheet ${g.sheet}: ${g.role}`).join("; ")}
                  </Typography>
                </Box>
              </ButtonBase>
            </li>
          );
        })}
      </Box>
    </Box>
  );
}
