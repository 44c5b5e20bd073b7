import { configure } from "@testing-library/react";

// A busy machine renders a menu in seconds, not milliseconds: what is waited for is given time to come.
configure({ asyncUtilTimeout: 30_000 });
