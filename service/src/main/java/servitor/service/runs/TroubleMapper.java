package servitor.service.runs;

import java.time.Instant;
import java.util.List;
import org.apache.ibatis.annotations.Insert;
import org.apache.ibatis.annotations.Mapper;
import org.apache.ibatis.annotations.Select;
import org.apache.ibatis.annotations.Update;
import org.jspecify.annotations.Nullable;

/** What went wrong, and who has seen to it. */
@Mapper
interface TroubleMapper {
    @Insert("insert into went_wrong (id, what, case_id, run_id, work, step, problem, detail, at, seen_by, how, "
            + "seen) values (#{id}, #{what}, #{caseId}, #{runId}, #{work}, #{step}, #{problem}, #{detail}, #{at}, "
            + "'', '', null)")
    void insert(TroubleRow row);

    @Select("select * from went_wrong where id = #{id} and seen_by = ''")
    @Nullable
    TroubleRow open(String id);

    @Select("select * from went_wrong where seen_by = '' order by at limit #{limit}")
    List<TroubleRow> allOpen(int limit);

    @Select("select * from went_wrong where run_id = #{run} and seen_by = '' order by at")
    List<TroubleRow> openOf(String run);

    @Select("select * from went_wrong where case_id = #{caseId} and seen_by = '' order by at")
    List<TroubleRow> openOfCase(String caseId);

    @Update("update went_wrong set seen_by = #{by}, how = #{how}, seen = #{now} where id = #{id} and seen_by = ''")
    int mended(String id, String by, String how, Instant now);
}
