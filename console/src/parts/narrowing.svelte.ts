import { fromAddress, toAddress } from './in-address';

/** What every long list can be narrowed to, by its name in the API and in the address, with what it is called. */
export const PARTS = {
  kind: 'Kind',
  desk: 'Desk',
  requester: 'Requester',
  page: 'Page',
  agent: 'Agent',
  'waiting-for': 'Waits for',
  since: 'From',
  until: 'Before',
} as const;
export type PartName = keyof typeof PARTS;

/** What a list is narrowed to, kept in the address. */
export class Narrowing {
  parts = $state<Partial<Record<PartName, string>>>({});

  constructor() {
    for (const name of Object.keys(PARTS) as PartName[]) {
      const value = fromAddress(name);
      if (value) {
        this.parts[name] = value;
      }
    }
  }

  /** The parts that say something, as the API takes them. */
  get query(): Partial<Record<PartName, string>> {
    return Object.fromEntries(Object.entries(this.parts).filter(([, value]) => value?.trim()));
  }

  get isSet(): boolean {
    return Object.keys(this.query).length > 0;
  }

  /** Writes them into the address, beside what else the view is. */
  keep(others: Record<string, string> = {}): void {
    toAddress({ ...others, ...(this.query as Record<string, string>) });
  }
}
