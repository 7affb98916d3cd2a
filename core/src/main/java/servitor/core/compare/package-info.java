/** Two handbooks side by side: what the difference means, and the difference of their texts. */
@org.jspecify.annotations.NullMarked
package servitor.core.compare;
