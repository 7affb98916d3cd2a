package servitor.core.handbook;

import java.util.Map;

/** How a directory keeps people and groups: classes and attributes differ from house to house. */
public record DirectoryLayout(People people, Groups groups) {

    /**
     * Where people are and what is read of them.
     *
     * @param base under which they stand, relative to the connection's; empty for all of it
     * @param filter more that has to hold (RFC 4515); empty for nothing
     * @param account the attribute by which a person is named
     * @param locked the attribute an account has while it is locked
     * @param unlocked what that attribute is set to then; empty to take it away
     */
    public record People(
            String objectClass,
            String base,
            String filter,
            String account,
            String name,
            String mail,
            String title,
            String locked,
            String unlocked) {}

    /**
     * Where groups are and how they name their members.
     *
     * @param member the attribute that names members
     * @param byAccount whether it names them by account, and not by their place in the directory
     * @param nested whether members of a group that is a member are members, too
     */
    public record Groups(
            String objectClass,
            String base,
            String filter,
            String name,
            String member,
            boolean byAccount,
            boolean nested) {}

    /** {@code inetOrgPerson} (RFC 2798), {@code groupOfNames}, locked by the password policy draft. */
    public static final DirectoryLayout INET = new DirectoryLayout(
            new People("inetOrgPerson", "", "", "uid", "cn", "mail", "title", "pwdAccountLockedTime", ""),
            new Groups("groupOfNames", "", "", "cn", "member", false, false));

    /** {@code posixAccount} and {@code posixGroup} (RFC 2307), whose members are accounts. */
    public static final DirectoryLayout POSIX = new DirectoryLayout(
            new People("posixAccount", "", "", "uid", "cn", "mail", "title", "pwdAccountLockedTime", ""),
            new Groups("posixGroup", "", "", "cn", "memberUid", true, false));

    /** Accounts of a domain: {@code sAMAccountName}, groups within groups, locked while {@code lockoutTime} isn't zero. */
    public static final DirectoryLayout DOMAIN = new DirectoryLayout(
            new People("user", "", "", "sAMAccountName", "displayName", "mail", "title", "lockoutTime", "0"),
            new Groups("group", "", "", "cn", "member", false, true));

    /** The common ones, by the words of tool files. */
    public static final Map<String, DirectoryLayout> COMMON = Map.of("inet", INET, "posix", POSIX, "domain", DOMAIN);
}
