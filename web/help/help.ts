// The page of help by itself.
import { listenHelp } from "./search";

listenHelp();
