import { api, type Session } from '../api/client';
import { live } from '../api/live.svelte';

/** Who is signed in. */
class CurrentSession {
  value = $state<Session>();

  async load(): Promise<void> {
    this.#set(await api.session());
  }

  async signIn(person: string, password: string): Promise<void> {
    this.#set(await api.signIn(person, password));
  }

  async signOut(): Promise<void> {
    this.#set(await api.signOut());
  }

  is(...roles: string[]): boolean {
    return roles.some((role) => this.value?.roles.includes(role));
  }

  get staff(): boolean {
    return this.is('resolver', 'approver', 'engineer', 'auditor');
  }

  /** Sees what holds for all desks, as staff and admins do. */
  get house(): boolean {
    return this.staff || this.is('admin');
  }

  #set(session: Session): void {
    this.value = session;
    if (session.id) {
      live.start();
    } else {
      live.stop();
    }
  }
}

export const session = new CurrentSession();
