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

    /** The mails that ask a person about approvals of a case, the newest first. */
    @Select(
            "select m.* from approval_mail m join approval a on a.id = m.approval_id where a.case_id = #{caseId} and m.person = "
                    + "#{person} and m.says = '' order by m.expires desc, m.id fetch first 20 rows only")
    List<ApprovalMail> asking(@Param("caseId") String caseId, @Param("person") String person);

    @Select(
            "select count(*) from approval_mail where approval_id = #{approvalId} and person = #{person} and says <> '' and moved > #{since}")
    int said(@Param("approvalId") String approvalId, @Param("person") String person, @Param("since") Instant since);

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

    @Update("update approval_mail set told = #{told} where id = #{id}")
    void tell(@Param("id") String id, @Param("told") String told);

    @Select("select told from approval_mail where id = #{id}")
    @Nullable
    String told(String id);

    @Update("update approval_mail set used = #{now} where id = #{id} and used is null")
    int use(@Param("id") String id, @Param("now") Instant now);
}
