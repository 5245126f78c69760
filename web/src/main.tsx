import { setNonce } from "get-nonce";
import { StrictMode } from "react";
import { createRoot } from "react-dom/client";
import { App } from "./app/App";
import { keepOnDevice } from "./app/offline";
import "./index.css";
import { startTheme } from "./parts/theme";

setNonce(document.querySelector<HTMLMetaElement>("meta[name=nonce]")?.content ?? "");
startTheme();
keepOnDevice();

createRoot(document.getElementById("root")!).render(
  <StrictMode>
    <App />
  </StrictMode>,
);
