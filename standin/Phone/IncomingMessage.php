<?php

declare(strict_types=1);

namespace Geschenk\Standin\Phone;

use Geschenk\Core\Chat\DeliveryState;
use Geschenk\Core\Chat\Kind;
use Geschenk\Core\Messenger\Otterpost\Android\AndroidSchema;
use Geschenk\Core\Messenger\Otterpost\Android\Codes;
use Geschenk\Core\Sqlite\Database;

/** A message comes in while everybody is at work: written into the newest conversation, as the messenger does it. */
final class IncomingMessage
{
    public static function canCome(PhoneFolder $phone, string $app): bool
    {
        return is_file($phone->data($app).'/'.AndroidSchema::DATABASE);
    }

    public static function comes(PhoneFolder $phone, string $app): void
    {
        $database = new Database(new \SQLite3($phone->data($app).'/'.AndroidSchema::DATABASE));
        try {
            $database->run(<<<'SQL'
                INSERT INTO slip (room_id, wire_id, folk_id, sort, body, sent_ms, landed_ms, stage)
                SELECT room_id, :wire, folk_id, :sort, 'Is the phone still at the shop?', :now, :now, :stage
                FROM slip WHERE mine = 0 AND folk_id IS NOT NULL ORDER BY sent_ms DESC LIMIT 1
                SQL, [
                'wire' => strtoupper(bin2hex(random_bytes(8))), 'now' => time() * 1000,
                'sort' => Codes::code(Codes::SLIP_SORTS, Kind::Text),
                'stage' => Codes::code(Codes::STAGES, DeliveryState::Received),
            ]);
        } finally {
            $database->close();
        }
    }
}
