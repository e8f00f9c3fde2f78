<?php

declare(strict_types=1);

namespace Geschenk\Standin\Phone;

use Geschenk\Core\Chat\Source;
use Geschenk\Core\Files\Folder;
use Geschenk\Core\Files\FolderFiles;
use Geschenk\Core\Files\ScratchFolder;
use Geschenk\Core\Messenger\Formats;
use Geschenk\Core\Messenger\Otterpost\Android\Schema as AndroidSchema;
use Geschenk\Core\Messenger\Otterpost\Handle;
use Geschenk\Core\Messenger\Otterpost\Ios\Schema as IosSchema;
use Geschenk\Core\NoProgress;
use Geschenk\Core\Platform;
use Geschenk\Core\Sqlite\Database;
use Geschenk\Core\Store\ChatStore;
use Geschenk\Core\Store\StoreWriter;
use Geschenk\Standin\Demo\ChatMaker;
use Geschenk\Standin\Demo\Customer;

/** A freshly installed messenger: its database is there and holds no chats. */
final class EmptyMessenger
{
    public static function install(PhoneFolder $phone, string $app, string $number = '', ?string $name = null): void
    {
        $platform = Platform::from($phone->state()['platform']);
        $scratch = ScratchFolder::make();
        $store = new StoreWriter($scratch->path.'/empty.sqlite');
        $store->source(
            new Source('Otterpost', Hands::APPS[$app]['name'] ?? Hands::APP['name'], $platform, 0, $number, $name),
        );
        $store->finish();
        $writer = (new Formats())->writing('Otterpost', $platform)?->writer() ?? throw new \LogicException(
            'No writer for '.$platform->properName(),
        );
        $target = $phone->data($app);
        Folder::remove($target);
        $writer->write(
            new ChatStore($scratch->path.'/empty.sqlite'), new FolderFiles($scratch->path), $target, new NoProgress(),
        );
    }

    /** What it had once put away in the net comes back: few messages, and old ones. */
    public static function fetch(PhoneFolder $phone, string $app, int $messages): void
    {
        $state = $phone->state();
        $numbers = array_column($state['apps'], 'number', 'id');
        $scratch = ScratchFolder::make();
        $store = new StoreWriter($scratch->path.'/fetched.sqlite');
        $edition = Hands::APPS[$app]['name'] ?? Hands::APP['name'];
        $mix = ['photo' => 0, 'voice' => 0, 'document' => 0];
        $customer = new Customer(
            $state['owner'], $numbers[$app] ?? '', ['family'], [], 3, $messages, $mix, 'hex', 2022, false, $edition,
            Platform::from($state['platform']),
        );
        (new ChatMaker($customer, 1, $scratch->path))->fill($store);
        $store->finish();
        $writer = (new Formats())->writing('Otterpost', Platform::from($state['platform']))?->writer()
            ?? throw new \LogicException('Nothing writes it.');
        $target = $phone->data($app);
        Folder::remove($target);
        $writer->write(
            new ChatStore($scratch->path.'/fetched.sqlite'), new FolderFiles($scratch->path), $target, new NoProgress(),
        );
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
