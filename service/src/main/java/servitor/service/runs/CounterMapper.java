package servitor.service.runs;

import java.math.BigDecimal;
import org.apache.ibatis.annotations.Delete;
import org.apache.ibatis.annotations.Insert;
import org.apache.ibatis.annotations.Mapper;
import org.apache.ibatis.annotations.Select;
import org.apache.ibatis.annotations.Update;
import org.jspecify.annotations.Nullable;

/** What has been used of limits, and which call used it. */
@Mapper
interface CounterMapper {
    @Select("select alone from counter where name = #{name}")
    @Nullable
    BigDecimal alone(String name);

    /** Adds to counters what charges come to; each counter once. */
    @Update("""
            merge into counter c using (
              select name, sum(alone) as alone, sum(beside) as beside from unnest(
                cast(#{counter} as varchar array), cast(#{byAgents} as decimal(30, 9) array), cast(#{byPeople} as decimal(30, 9) array))
                as used (name, alone, beside)
              group by name) as more on c.name = more.name
            when matched then update set alone = c.alone + more.alone, beside = c.beside + more.beside
            when not matched then insert (name, alone, beside) values (more.name, more.alone, more.beside)
            """)
    void add(ChargeColumns charges);

    @Insert("""
            insert into charge (work, counter, amount, alone) select * from unnest(
              cast(#{work} as varchar array), cast(#{counter} as varchar array), cast(#{amount} as decimal(30, 9) array),
              cast(#{alone} as boolean array))
            """)
    void insert(ChargeColumns charges);

    @Update("""
            update counter c set
              alone = alone - (select coalesce(sum(amount), 0) from charge h where h.work = #{work} and h.counter = c.name and h.alone),
              beside = beside - (select coalesce(sum(amount), 0) from charge h where h.work = #{work} and h.counter = c.name
                and not h.alone)
            where name in (select counter from charge where work = #{work})
            """)
    void giveBack(String work);

    @Delete("delete from charge where work = #{work}")
    int deleteCharges(String work);
}
