/** Talks to the service over its API. */
@org.jspecify.annotations.NullMarked
package servitor.cli.client;
