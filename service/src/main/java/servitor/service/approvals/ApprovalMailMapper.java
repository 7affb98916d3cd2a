package servitor.service.approvals;

import java.time.Instant;
import java.util.List;
import org.apache.ibatis.annotations.Insert;
import org.apache.ibatis.annotations.Mapper;
import org.apache.ibatis.annotations.Param;
import org.apache.ibatis.annotations.Select;
import org.apache.ibatis.annotations.Update;
import org.jspecify.annotations.Nullable;

/** Mails about approvals. */
@Mapper
interface ApprovalMailMapper {
    @Insert(
            "insert into approval_mail (id, approval_id, person, digest, says, expires, state, moved, detail, used) values (#{id}, "
                    + "#{approvalId}, #{person}, #{digest}, #{says}, #{expires}, #{state}, #{moved}, #{detail}, #{used})")
    void insert(ApprovalMail mail);

    @Select("select * from approval_mail where id = #{id}")
    @Nullable
    ApprovalMail find(String id);

    @Select("select * from approval_mail where state = #{state} order by moved fetch first 100 rows only")
    List<ApprovalMail> in(String state);

    @Update(
            "update approval_mail set state = #{to}, moved = #{now}, detail = #{detail} where id = #{mail.id} and state = "
                    + "#{mail.state}")
    int move(
            @Param("mail") ApprovalMail mail,
            @Param("to") String to,
            @Param("now") Instant now,
            @Param("detail") String detail);

    @Update("update approval_mail set used = #{now} where id = #{id} and used is null")
    int use(@Param("id") String id, @Param("now") Instant now);
}
