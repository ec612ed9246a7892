/** Links by which others see this colouring and tick it off at tables of their own; withdrawn at once. */
import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import Typography from "@mui/material/Typography";
import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { useAct } from "../../../api/acts";
import { api, data } from "../../../api/client";
import { keys } from "../../../api/keys";
import { useShared } from "../context";

export function ShowOthers() {
  const { id } = useShared();
  const [copied, setCopied] = useState<number | null>(null);
  const path = { path: { id } };
  const links = useQuery({
    queryKey: keys.shares(id),
    queryFn: () => data(api.GET("/api/colourings/{id}/shares", { params: { path: { id } } })),
  });
  const make = useAct(() => data(api.POST("/api/colourings/{id}/shares", { params: path })), {
    changes: [keys.shares(id)],
    otherwise: "No link could be made.",
  });
  const withdraw = useAct(
    (share: number) => api.DELETE("/api/colourings/{id}/shares/{share}", { params: { path: { id, share } } }),
    { changes: [keys.shares(id)], otherwise: "It could not be withdrawn." },
  );
  const address = (token: string) => `${window.location.origin}/shared/${token}`;
  const copy = async (number: number, token: string) => {
    try {
      await navigator.clipboard.writeText(address(token));
      setCopied(number);
    } catch {
      setCopied(null); // the address stands there to be marked by hand
    }
  };
  return (
    <Box sx={{ display: "grid", gap: 1 }}>
      <Typography variant="caption">
        Whoever has a link sees the picture, the pads by name and the steps, and ticks them off for herself.
        Nothing of your drawer, your notes or your name is shown.
      </Typography>
      <Box component="ul" sx={{ display: "grid", gap: 1 }}>
        {(links.data ?? []).map((link, n) => (
          <Box component="li" key={link.id}>
            <Typography variant="body2" sx={{ overflowWrap: "anywhere", userSelect: "all" }}>
              {address(link.token)}
            </Typography>
            <Button variant="text" onClick={() => void copy(link.id, link.token)}>
              {copied === link.id ? "Copied" : `Copy link ${n + 1}`}
            </Button>
            <Button variant="text" component="a" href={address(link.token)} target="_blank" rel="noopener">
              Look at it
            </Button>
            <Button variant="text" disabled={withdraw.isPending} onClick={() => withdraw.mutate(link.id)}>
              Withdraw link {n + 1}
            </Button>
          </Box>
        ))}
      </Box>
      <Box>
        <Button variant="outlined" disabled={make.isPending} onClick={() => make.mutate()}>
          Make a link
        </Button>
      </Box>
    </Box>
  );
}
