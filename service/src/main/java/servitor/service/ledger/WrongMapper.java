package servitor.service.ledger;

import java.time.Instant;
import java.util.List;
import org.apache.ibatis.annotations.Insert;
import org.apache.ibatis.annotations.Mapper;
import org.apache.ibatis.annotations.Select;
import org.apache.ibatis.annotations.Update;
import org.jspecify.annotations.Nullable;
import servitor.service.ledger.Rows.WrongRow;

/** What went wrong, and who has seen to it. */
@Mapper
interface WrongMapper {
    @Insert(
            "insert into went_wrong values (#{id}, #{what}, #{caseId}, #{runId}, #{work}, #{step}, #{problem}, #{detail}, #{at}, '', '', null)")
    void insert(WrongRow row);

    @Select("select * from went_wrong where id = #{id} and seen_by = ''")
    @Nullable
    WrongRow open(String id);

    @Select("select * from went_wrong where seen_by = '' order by at limit #{limit}")
    List<WrongRow> allOpen(int limit);

    @Select("select * from went_wrong where run_id = #{run} and seen_by = '' order by at")
    List<WrongRow> openOf(String run);

    @Select("select * from went_wrong where case_id = #{caseId} and seen_by = '' order by at")
    List<WrongRow> openOfCase(String caseId);

    @Update("update went_wrong set seen_by = #{by}, how = #{how}, seen = #{now} where id = #{id} and seen_by = ''")
    int seen(String id, String by, String how, Instant now);
}
