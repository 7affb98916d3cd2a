/** Deciding past cases again by another edition: what would have gone another way. It only reads. */
@org.jspecify.annotations.NullMarked
package servitor.service.lookback;
