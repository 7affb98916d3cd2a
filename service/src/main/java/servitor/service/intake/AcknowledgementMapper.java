package servitor.service.intake;

import java.time.Instant;
import java.util.List;
import org.apache.ibatis.annotations.Insert;
import org.apache.ibatis.annotations.Mapper;
import org.apache.ibatis.annotations.Param;
import org.apache.ibatis.annotations.Select;
import org.apache.ibatis.annotations.Update;
import org.jspecify.annotations.Nullable;

/** Acknowledgements of mails that opened cases. */
@Mapper
interface AcknowledgementMapper {
    @Insert("insert into acknowledgement (case_id, intake, requester, at, state, detail) values (#{caseId}, #{intake}, "
            + "#{requester}, #{at}, #{state}, #{detail})")
    void insert(AcknowledgementRow row);

    @Select("select * from acknowledgement where case_id = #{caseId}")
    @Nullable
    AcknowledgementRow find(String caseId);

    @Select(
            "select count(*) from acknowledgement where requester = #{requester} and at >= #{since} and state <> 'left'")
    int since(@Param("requester") String requester, @Param("since") Instant since);

    @Select("select * from acknowledgement where state = #{state} order by at fetch first 100 rows only")
    List<AcknowledgementRow> in(String state);

    @Update(
            "update acknowledgement set state = #{to}, at = #{now}, detail = #{detail} where case_id = #{row.caseId} and state = "
                    + "#{row.state}")
    int move(
            @Param("row") AcknowledgementRow row,
            @Param("to") String to,
            @Param("now") Instant now,
            @Param("detail") String detail);
}
