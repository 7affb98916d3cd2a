package servitor.service.connections;

/**
 * Where an outside system is.
 *
 * @param atOnce how many calls may be under way over it at the same time
 * @param signIn what may be shown of how it is signed in to; empty when it isn't
 * @param sealed the credentials, encrypted; empty for none
 * @param inside whether it may lead into a private network
 * @param authorities whose certificates it takes, in PEM; empty for those of the machine
 */
public record ConnectionRow(
        String name, String url, int atOnce, String signIn, String sealed, boolean inside, String authorities) {
    @Override
    public String toString() {
        return "connection " + name + " to " + url;
    }
}
