<?php

declare(strict_types=1);

namespace Geschenk\Core\Conversion;

use Geschenk\Core\Conversion\Chosen\ChosenConversation;
use Geschenk\Core\Conversion\Chosen\ChosenDate;
use Geschenk\Core\Conversion\Chosen\ChosenFile;
use Geschenk\Core\Conversion\Chosen\NotInTrial;
use Geschenk\Core\Store\ChatStore;

/**
 * How much a choice brings, before anything is planned: counted in the backup's chats by what Scope says. What the
 * receiving format can't hold is not looked at here.
 *
 * @phpstan-type RowSum array{messages: int, bytes: int}
 */
final readonly class ScopeSum
{
    /**
     * @param array<string, RowSum>   $groups        by group, of what the choice of conversations and dates leaves,
     *                                               whether the group itself comes or not
     * @param array<int, RowSum>      $conversations by id, what is brought of each
     * @param int                     $messages      brought, with their files or without
     * @param int                     $bytes         of files brought
     * @param int                     $leftOut       messages that stay behind
     * @param int                     $withoutFile   messages that come without their file
     */
    private function __construct(
        public array $groups,
        public array $conversations,
        public int $messages,
        public int $bytes,
        public int $leftOut,
        public int $withoutFile,
    ) {
    }

    public static function of(ChatStore $chats, Scope $scope): self
    {
        $database = $chats->connect();
        $stays = self::either([
            ChosenConversation::leftBy($scope), ChosenDate::leftBy($scope), NotInTrial::leftBy($scope),
        ]);
        $outside = self::either([ChosenDate::outside($scope), NotInTrial::outside($scope)]);
        $group = FileGroup::ofColumn('m.kind');
        $brought = "FROM message m JOIN conversation c USING (conversation_id) WHERE NOT ($stays) AND NOT ($outside)";
        $left = array_map(static fn (FileGroup $g): string => $g->value, $scope->groups);
        $groups = $rows = [];
        foreach (FileGroup::cases() as $case) {
            self::add($groups, $case->value, 0, 0);
        }
        $withoutFile = 0;
        $hasFile = ChosenFile::HAS_FILE;
        $counts = <<<SQL
            SELECT m.conversation_id, $group AS grp, COUNT(*) AS n,
                SUM(ifnull(CAST(m.body AS BLOB), x'') <> x'') AS said,
                SUM(ifnull(CAST(m.body AS BLOB), x'') <> x'' AND $hasFile) AS said_with_file
            $brought
            GROUP BY 1, 2
            SQL;
        foreach ($database->rows($counts) as $row) {
            $name = $row->nullableText('grp');
            $isLeft = null !== $name && in_array($name, $left, true);
            if (null !== $name) {
                self::add($groups, $name, $row->int('n'), 0);
            }
            self::add($rows, $row->int('conversation_id'), $isLeft ? $row->int('said') : $row->int('n'), 0);
            $withoutFile += $isLeft ? $row->int('said_with_file') : 0;
        }
        $sizes = <<<SQL
            SELECT m.conversation_id, $group AS grp, SUM(a.bytes) AS bytes
            FROM attachment a JOIN message m USING (message_id) JOIN conversation c USING (conversation_id)
            WHERE a.presence IN ('present', 'wrong_type') AND NOT ($stays) AND NOT ($outside)
            GROUP BY 1, 2
            SQL;
        foreach ($database->rows($sizes) as $row) {
            $name = $row->nullableText('grp');
            if (null !== $name) {
                self::add($groups, $name, 0, $row->int('bytes'));
            }
            $comes = null !== $name && in_array($name, $left, true) ? 0 : $row->int('bytes');
            self::add($rows, $row->int('conversation_id'), 0, $comes);
        }
        $empty = "SELECT c.conversation_id FROM conversation c WHERE c.messages = 0 AND NOT ($stays)";
        foreach ($database->few($empty) as $row) {
            self::add($rows, $row->int('conversation_id'), 0, 0);
        }
        $all = $database->one('SELECT COUNT(*) AS n FROM message')?->int('n') ?? 0;
        $messages = array_sum(array_column($rows, 'messages'));

        return new self(
            $groups, $rows, $messages, array_sum(array_column($rows, 'bytes')), $all - $messages, $withoutFile,
        );
    }

    /**
     * @template K of array-key
     *
     * @param array<K, RowSum> $sums
     * @param K                $of
     */
    private static function add(array &$sums, int|string $of, int $messages, int $bytes): void
    {
        $sums[$of] = [
            'messages' => ($sums[$of]['messages'] ?? 0) + $messages, 'bytes' => ($sums[$of]['bytes'] ?? 0) + $bytes,
        ];
    }

    /** @param list<string|null> $conditions */
    private static function either(array $conditions): string
    {
        $told = array_filter($conditions, static fn (?string $c): bool => null !== $c);

        return [] === $told ? '0' : '('.implode(') OR (', $told).')';
    }
}
