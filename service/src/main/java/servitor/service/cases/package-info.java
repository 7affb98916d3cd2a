/** Cases and the notes on them. */
@org.jspecify.annotations.NullMarked
package servitor.service.cases;
