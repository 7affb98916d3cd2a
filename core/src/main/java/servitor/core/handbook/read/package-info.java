/** Reads the files of a handbook into its model. What can't be read is a finding; nothing throws. */
@org.jspecify.annotations.NullMarked
package servitor.core.handbook.read;
