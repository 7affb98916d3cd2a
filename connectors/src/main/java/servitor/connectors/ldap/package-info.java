/** Tools of a staff directory. */
@org.jspecify.annotations.NullMarked
package servitor.connectors.ldap;
