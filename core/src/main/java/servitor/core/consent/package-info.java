/** What people said yes to, as data that the gate reads: everything beyond it is asked again or refused. */
@org.jspecify.annotations.NullMarked
package servitor.core.consent;
