<?php

declare(strict_types=1);

namespace Geschenk\Standin\Phone;

use Geschenk\Core\Chat\Conversation;
use Geschenk\Core\Chat\ConversationKind;
use Geschenk\Core\Chat\DeliveryState;
use Geschenk\Core\Chat\Kind;
use Geschenk\Core\Chat\Message;
use Geschenk\Core\Chat\Source;
use Geschenk\Core\Files\Content\FolderFiles;
use Geschenk\Core\Files\Durable\Folder;
use Geschenk\Core\Files\Durable\ScratchFolder;
use Geschenk\Core\Messenger\Formats;
use Geschenk\Core\Messenger\Otterpost\Android\AndroidSchema;
use Geschenk\Core\Messenger\Otterpost\Handle;
use Geschenk\Core\Messenger\Otterpost\Ios\IosSchema;
use Geschenk\Core\NoProgress;
use Geschenk\Core\Platform;
use Geschenk\Core\Sqlite\Database;
use Geschenk\Core\Store\ChatStore;
use Geschenk\Core\Store\StoreWriter;

/** A freshly installed messenger: its database is there and holds no chats. */
final class EmptyMessenger
{
    /** Milliseconds since 1970 UTC: in 2022. */
    private const FETCHED_AT = 1_650_000_000_000;

    public static function install(PhoneFolder $phone, string $app, string $number = '', ?string $name = null): void
    {
        self::write($phone, $app, $number, $name, static fn (StoreWriter $store) => null);
    }

    /** What it had once put away in the net comes back: few messages, and old ones. */
    public static function fetch(PhoneFolder $phone, string $app, int $messages): void
    {
        $state = $phone->state();
        $number = array_column($state['apps'], 'number', 'id')[$app] ?? '';
        self::write($phone, $app, $number, $state['owner'], static function (StoreWriter $store) use (
            $number, $messages,
        ): void {
            $notes = $store->conversation(new Conversation(
                $number, ConversationKind::NotesToSelf, null, null, null, false, null, null, 0, null, [],
            ));
            for ($n = 1; $n <= $messages; ++$n) {
                $sentAt = self::FETCHED_AT + $n * 60_000;
                $store->message($notes, new Message(
                    sprintf('FETCHED%04d', $n), null, true, Kind::Text, "An old note, $n", $sentAt, null,
                    DeliveryState::Sent,
                ));
            }
        });
    }

    /** @param callable(StoreWriter): mixed $fill what it holds */
    private static function write(
        PhoneFolder $phone,
        string $app,
        string $number,
        ?string $name,
        callable $fill,
    ): void {
        $platform = Platform::from($phone->state()['platform']);
        $scratch = ScratchFolder::make();
        $path = $scratch->path.'/chats.sqlite';
        $store = new StoreWriter($path);
        $store->source(
            new Source('Otterpost', Hands::APPS[$app]['name'] ?? Hands::APP['name'], $platform, 0, $number, $name),
        );
        $fill($store);
        $store->finish();
        $writer = (new Formats())->writing('Otterpost', $platform)?->writer() ?? throw new \LogicException(
            'No writer for '.$platform->properName(),
        );
        $target = $phone->data($app);
        Folder::remove($target);
        $writer->write(new ChatStore($path), new FolderFiles($scratch->path), $target, new NoProgress());
    }

    /** The messenger notes its own number; chats that are there stay. */
    public static function register(PhoneFolder $phone, string $app, string $number): void
    {
        $isAndroid = Platform::Android->value === $phone->state()['platform'];
        $path = $phone->data($app).'/'.($isAndroid ? AndroidSchema::DATABASE : IosSchema::DATABASE);
        if (is_file($path)) {
            $database = new Database(new \SQLite3($path));
            $isAndroid
                ? $database->run(
                    "UPDATE holt SET value = ? WHERE name = 'own_handle'",
                    [Handle::fromKey($number, Handle::ANDROID_SUFFIX)],
                )
                : $database->run('UPDATE ZHOLT SET ZOWNHANDLE = ?', [Handle::fromKey($number, Handle::IOS_SUFFIX)]);
            $database->close();
        }
    }
}
