/** What is read of the documents of cases: each file once, by a process that holds nothing else. */
@NullMarked
package servitor.service.reading;

import org.jspecify.annotations.NullMarked;
