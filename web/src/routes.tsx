/** Every view has an address; each is loaded when it is first opened. */
import { createBrowserRouter, Navigate } from "react-router";
import { Frame } from "./parts/Frame";
import { Lost } from "./parts/Lost";

const Nothing = () => null;

export const router = createBrowserRouter([
  {
    path: "/sign-in",
    lazy: () => import("./views/sign/SignIn"),
    HydrateFallback: Nothing,
    errorElement: <Lost />,
  },
  {
    path: "/",
    element: <Frame />,
    errorElement: <Lost />,
    HydrateFallback: Nothing,
    children: [
      { index: true, lazy: () => import("./views/home/Home") },
      { path: "inks/recipes", lazy: () => import("./views/inks/recipes/Recipes") },
      { path: "inks/bring-in", lazy: () => import("./views/inks/bring/BringInks") },
      { path: "inks/bring-in/:importId", lazy: () => import("./views/inks/bring/InksComing") },
      { path: "inks/swatch-cards", lazy: () => import("./views/inks/cards/SwatchCards") },
      { path: "inks/swatch-cards/:cardId", lazy: () => import("./views/inks/cards/CardOpened") },
      { path: "inks", lazy: () => import("./views/inks/Inks") },
      { path: "sets", lazy: () => import("./views/sets/Sets") },
      { path: "sets/bring-in", lazy: () => import("./views/sets/bring/BringIn") },
      { path: "sets/bring-in/:importId", lazy: () => import("./views/sets/bring/Follow") },
      { path: "sets/:setId", lazy: () => import("./views/sets/opened/SetOpened") },
      {
        path: "builds/:buildId",
        lazy: () => import("./views/build/BuildShell"),
        children: [
          { index: true, element: <Navigate to="strata" replace /> },
          { path: "materials", lazy: () => import("./views/build/materials/Materials") },
          { path: "strata", lazy: () => import("./views/build/strata/Strata") },
          { path: "order", lazy: () => import("./views/build/order/Order") },
        ],
      },
      { path: "*", element: <Lost inside /> },
    ],
  },
  {
    path: "/builds/:buildId/table",
    lazy: () => import("./views/build/table/Table"),
    HydrateFallback: Nothing,
    errorElement: <Lost />,
  },
]);
