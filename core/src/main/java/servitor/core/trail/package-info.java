/** The append-only record: canonical form, hash chain and the verifier. */
@org.jspecify.annotations.NullMarked
package servitor.core.trail;
