/** What an agent may do: grants, verdicts and the judge that gives them. */
@org.jspecify.annotations.NullMarked
package servitor.core.mandate;
