/** What a mail says of itself and what may be believed of it. No protocol and no parsing: mails come here as data. */
@org.jspecify.annotations.NullMarked
package servitor.core.mail;
