/** What is waited for comes later on a machine that is at something else. */
import { configure } from "@testing-library/react";

configure({ asyncUtilTimeout: 20_000 });
