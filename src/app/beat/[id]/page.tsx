import { readTheme } from "@/ui/theme/read-theme";
import { WorkspacePage } from "@/ui/screen/workspace-page";

export default async function Page() {
  return <WorkspacePage theme={await readTheme()} />;
}
