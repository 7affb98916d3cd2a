/** Mail as it comes over the wire: mailboxes (IMAP, RFC 9051) and messages (MIME, RFC 2045). */
@org.jspecify.annotations.NullMarked
package servitor.connectors.mail;
