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
    path: "/join/:token",
    lazy: () => import("./views/sign/Join"),
    HydrateFallback: Nothing,
    errorElement: <Lost />,
  },
  {
    path: "/",
    element: <Frame />,
    errorElement: <Lost />,
    HydrateFallback: Nothing,
    children: [
      { index: true, lazy: () => import("./views/home/Home"), errorElement: <Lost inside /> },
      {
        path: "inks/recipes",
        lazy: () => import("./views/inks/recipes/Recipes"),
        errorElement: <Lost inside />,
      },
      {
        path: "inks/bring-in",
        lazy: () => import("./views/inks/bring/BringInks"),
        errorElement: <Lost inside />,
      },
      {
        path: "inks/bring-in/:importId",
        lazy: () => import("./views/inks/bring/InksComing"),
        errorElement: <Lost inside />,
      },
      {
        path: "inks/swatch-cards",
        lazy: () => import("./views/inks/cards/SwatchCards"),
        errorElement: <Lost inside />,
      },
      {
        path: "inks/swatch-cards/:cardId",
        lazy: () => import("./views/inks/cards/CardOpened"),
        errorElement: <Lost inside />,
      },
      { path: "inks", lazy: () => import("./views/inks/Inks"), errorElement: <Lost inside /> },
      { path: "sets", lazy: () => import("./views/sets/Sets"), errorElement: <Lost inside /> },
      {
        path: "sets/bring-in",
        lazy: () => import("./views/sets/bring/BringIn"),
        errorElement: <Lost inside />,
      },
      {
        path: "sets/bring-in/:importId",
        lazy: () => import("./views/sets/bring/Follow"),
        errorElement: <Lost inside />,
      },
      {
        path: "sets/:setId",
        lazy: () => import("./views/sets/opened/SetOpened"),
        errorElement: <Lost inside />,
      },
      { path: "log", lazy: () => import("./views/log/Log"), errorElement: <Lost inside /> },
      { path: "log/learn", lazy: () => import("./views/log/Learn"), errorElement: <Lost inside /> },
      { path: "log/:recordId", lazy: () => import("./views/log/Opened"), errorElement: <Lost inside /> },
      { path: "account", lazy: () => import("./views/account/Account"), errorElement: <Lost inside /> },
      { path: "house", lazy: () => import("./views/account/House"), errorElement: <Lost inside /> },
      { path: "evening", lazy: () => import("./views/evening/Evening"), errorElement: <Lost inside /> },
      {
        path: "builds/:buildId",
        lazy: () => import("./views/build/FirstColouring"),
        errorElement: <Lost inside />,
      },
      {
        path: "builds/:buildId/:tab",
        lazy: () => import("./views/build/FirstColouring"),
        errorElement: <Lost inside />,
      },
      {
        path: "builds/:buildId/colourings/:colouringId",
        lazy: () => import("./views/build/BuildShell"),
        errorElement: <Lost inside />,
        children: [
          { index: true, element: <Navigate to="strata" replace /> },
          {
            path: "panel",
            lazy: () => import("./views/build/panel/Panel"),
          },
          {
            path: "materials",
            lazy: () => import("./views/build/materials/Materials"),
            errorElement: <Lost inside />,
          },
          {
            path: "strata",
            lazy: () => import("./views/build/strata/Strata"),
            errorElement: <Lost inside />,
          },
          {
            path: "beside",
            lazy: () => import("./views/build/beside/Beside"),
            errorElement: <Lost inside />,
          },
          {
            path: "finish",
            lazy: () => import("./views/build/finish/Finish"),
            errorElement: <Lost inside />,
          },
          { path: "order", lazy: () => import("./views/build/order/Order"), errorElement: <Lost inside /> },
        ],
      },
      { path: "*", element: <Lost inside /> },
    ],
  },
  {
    path: "/shared/:token",
    lazy: () => import("./views/shared/Shared"),
    HydrateFallback: Nothing,
    errorElement: <Lost />,
  },
  {
    path: "/builds/:buildId/colourings/:colouringId/table",
    lazy: () => import("./views/build/table/Table"),
    HydrateFallback: Nothing,
    errorElement: <Lost />,
  },
]);
