package servitor.service.people;

import java.time.Instant;
import java.util.List;
import java.util.Set;
import org.apache.ibatis.annotations.Delete;
import org.apache.ibatis.annotations.Insert;
import org.apache.ibatis.annotations.Mapper;
import org.apache.ibatis.annotations.Param;
import org.apache.ibatis.annotations.Select;
import org.apache.ibatis.annotations.Update;
import org.jspecify.annotations.Nullable;

/** People, what they belong to, and their tokens. */
@Mapper
interface PersonMapper {
    @Select("select * from person where id = #{id}")
    @Nullable
    PersonRow find(String id);

    @Select("select * from person where id = #{name} or email = #{name} or (account <> '' and account = #{name})")
    List<PersonRow> called(String name);

    @Select("select * from person where lower(email) = lower(#{address}) and email <> ''")
    List<PersonRow> withAddress(String address);

    @Select("select * from person order by id")
    List<PersonRow> all();

    @Select("select count(*) from person")
    long count();

    @Insert("insert into person (id, name, email, account, password, roles, created, manager, disabled, "
            + "signed_out) values (#{id}, #{name}, #{email}, #{account}, #{password}, #{roles}, #{created}, "
            + "#{manager}, #{disabled}, #{signedOut})")
    void insert(PersonRow row);

    @Update("update person set name = #{name}, email = #{email}, account = #{account}, password = #{password}, "
            + "roles = #{roles}, manager = #{manager}, disabled = #{disabled}, signed_out = #{signedOut} where id "
            + "= #{id}")
    int update(PersonRow row);

    @Select("select desk from person_desk where person = #{person} order by desk")
    List<String> desks(String person);

    @Select("select name from person_group where person = #{person} order by name")
    List<String> groups(String person);

    /** How many people could answer for any of {@code names} and are meant by none of {@code barred}. */
    @Select("""
            <script>
            select count(*) from person p where p.disabled is null and (
              'person:' || p.id in <foreach collection="names" item="n" open="(" separator="," close=")">#{n}</foreach>
              or exists (select 1 from person_group g where g.person = p.id and g.name in
                <foreach collection="names" item="n" open="(" separator="," close=")">#{n}</foreach>)
              or (' ' || p.roles || ' ' like '% approver %' or ' ' || p.roles || ' ' like '% resolver %')
                and exists (select 1 from person_desk d where d.person = p.id and d.desk in
                <foreach collection="names" item="n" open="(" separator="," close=")">#{n}</foreach>))
            <if test="barred.size() > 0">
              and 'person:' || p.id not in <foreach collection="barred" item="n" open="(" separator="," close=")">#{n}</foreach>
              and not exists (select 1 from person_group g where g.person = p.id and g.name in
                <foreach collection="barred" item="n" open="(" separator="," close=")">#{n}</foreach>)
              and not exists (select 1 from person_desk d where d.person = p.id and d.desk in
                <foreach collection="barred" item="n" open="(" separator="," close=")">#{n}</foreach>)
            </if>
            </script>
            """)
    int countIn(@Param("names") Set<String> names, @Param("barred") Set<String> barred);

    /** Everybody who may sign in and belongs to {@code name}: as a member of a group or a desk, or as {@code person:ID}. */
    @Select(
            "select * from person where disabled is null and ('person:' || id = #{name} or id in (select person from person_group "
                    + "where name = #{name}) or id in (select person from person_desk where desk = #{name})) order by id")
    List<PersonRow> meant(String name);

    @Delete("delete from person_desk where person = #{person}")
    void clearDesks(String person);

    @Delete("delete from person_group where person = #{person}")
    void clearGroups(String person);

    @Insert("insert into person_desk (person, desk) values (#{person}, #{desk})")
    void insertDesk(String person, String desk);

    @Insert("insert into person_group (person, name) values (#{person}, #{name})")
    void insertGroup(String person, String name);

    /** Whom somebody stands in for now: people who may sign in, at no other desks than their deputy's. */
    @Select("""
            select d.person from deputy d join person p on p.id = d.person
            where d.deputy = #{deputy} and d.since <= #{now} and d.until > #{now} and p.disabled is null
              and not exists (select 1 from person_desk x where x.person = d.person
                and x.desk not in (select y.desk from person_desk y where y.person = #{deputy}))
            order by d.person
            """)
    List<String> standsInFor(String deputy, Instant now);

    @Select("select * from deputy where person = #{person}")
    @Nullable
    DeputyRow deputy(String person);

    @Insert(
            "merge into deputy (person, deputy, since, until, set_by) key (person) values (#{person}, #{deputy}, #{since}, "
                    + "#{until}, #{setBy})")
    void setDeputy(DeputyRow row);

    @Delete("delete from deputy where person = #{person}")
    int deleteDeputy(String person);

    @Select("select * from token where hash = #{hash}")
    @Nullable
    TokenRow token(String hash);

    @Select("select * from token where person = #{person} order by created")
    List<TokenRow> tokensOf(String person);

    @Insert(
            "insert into token (hash, person, label, created, expires) values (#{hash}, #{person}, #{label}, #{created}, #{expires})")
    void insertToken(TokenRow row);

    @Delete("delete from token where person = #{person} and label = #{label}")
    int deleteTokens(String person, String label);
}
