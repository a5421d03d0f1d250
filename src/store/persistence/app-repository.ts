import { Repository } from "./repository";

let repository: Repository | undefined;

/** The one repository of this page; what it holds in memory survives going from the shelf to a beat and back. */
export function appRepository(): Repository {
  repository ??= new Repository();
  return repository;
}
