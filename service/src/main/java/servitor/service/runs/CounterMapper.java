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

    @Update("""
            merge into counter c using (values (#{name}, cast(#{alone} as decimal(30, 9)), cast(#{beside} as decimal(30, 9))))
              as more (name, alone, beside) on c.name = more.name
            when matched then update set alone = c.alone + more.alone, beside = c.beside + more.beside
            when not matched then insert (name, alone, beside) values (more.name, more.alone, more.beside)
            """)
    void add(String name, BigDecimal alone, BigDecimal beside);

    @Insert("insert into charge (work, counter, amount, alone) values (#{work}, #{counter}, #{amount}, #{alone})")
    void charge(String work, String counter, BigDecimal amount, boolean alone);

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
