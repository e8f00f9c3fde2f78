<?php

declare(strict_types=1);

namespace Geschenk\Standin\Demo;

use Geschenk\Core\Files\Durable\ScratchFolder;
use Geschenk\Standin\Phone\ComputerBackup;

/** What is left of a phone that lies at the bottom of the harbour: its owner's computer had backed it up, twice. */
final class HomeComputer
{
    /** What its owner says at the counter: the password is in it. */
    public const SAID = 'It is under: '.self::PASSWORD;
    public const PASSWORD = 'two oars, no boat';
    private const DAY = 86_400_000;
    private const TOOK = 1_260_000;

    /**
     * @param string                 $folder where it goes
     * @param callable(string): void $say    told what is being made
     */
    public static function make(string $folder, callable $say): void
    {
        $scratch = ScratchFolder::make();
        $phone = DemoMaker::phone($scratch->path, $say, Customer::ferrywoman(), 11, [
            'serial' => 'LSL0990377', 'maker' => 'Lindenau', 'model' => 'Slate 1', 'platform' => 'ios',
            'os_version' => '16.4', 'developer_options' => false, 'debugging' => false, 'admitted' => true,
        ]);
        $say('  and what her computer at home had of it, on a stick');
        $computer = new ComputerBackup($folder.'/Slate 1 of Maren', self::PASSWORD);
        $early = ChatMaker::NOW - 41 * self::DAY;
        $computer->take($phone, $early, $early + self::TOOK);
        DemoMaker::addAccount($phone, $say, Customer::ferry(), 12, false);
        $late = ChatMaker::NOW - 3 * self::DAY;
        $computer->take($phone, $late, $late + self::TOOK);
        // The lid was closed in the middle of the last one.
        $computer->take($phone, ChatMaker::NOW - self::DAY, null);
    }
}
