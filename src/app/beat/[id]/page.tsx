import { readTheme } from "@/ui/theme/read-theme";
import { WorkspacePage } from "@/ui/workspace/workspace-page";

export default async function Page() {
  return <WorkspacePage theme={await readTheme()} />;
}
