<?php

declare(strict_types=1);

namespace Geschenk\App\Demo;

use Doctrine\ORM\EntityManagerInterface;
use Geschenk\App\DataFolder;
use Geschenk\App\DataKind;
use Geschenk\App\Entity\User;
use Geschenk\App\RecordsCopy;
use Geschenk\App\Words\Words;
use Geschenk\Core\Files\Durable\Disk;
use Geschenk\Core\Files\Durable\Folder;
use Geschenk\Core\Seal\Keyring;
use Geschenk\Standin\Demo\DemoMaker;
use Geschenk\Standin\Place\SecondDisk;
use Geschenk\Standin\Stick\Drawer;
use Symfony\Component\Clock\ClockInterface;
use Symfony\Component\Console\Attribute\AsCommand;
use Symfony\Component\Console\Command\Command;
use Symfony\Component\Console\Input\InputInterface;
use Symfony\Component\Console\Input\InputOption;
use Symfony\Component\Console\Output\OutputInterface;

#[AsCommand(
    'demo:make', 'Makes the demonstration: users, stand-in phones with chats, some trays; only if there is none',
)]
final class DemoMakeCommand extends Command
{
    public function __construct(
        private readonly EntityManagerInterface $entities,
        private readonly DataFolder $data,
        private readonly DemoShop $shop,
        private readonly RecordsCopy $copy,
        private readonly ClockInterface $clock,
        private readonly Words $words,
        private readonly Drawer $drawer,
        private readonly SecondDisk $secondDisk,
        private readonly Keyring $keys,
    ) {
        parent::__construct();
    }

    protected function configure(): void
    {
        $this->addOption(
            'reset', null, InputOption::VALUE_NONE, 'Throw the present demonstration away and make it anew',
        )
            ->addOption(
                'cable', null, InputOption::VALUE_REQUIRED,
                'Speed of the stand-in cables in MB a second; 0 is unlimited', '4',
            );
    }

    protected function execute(InputInterface $input, OutputInterface $output): int
    {
        $isReset = true === $input->getOption('reset');
        $folder = $this->data->path;
        $kind = DataKind::of($folder);
        $isThere = $this->entities->getRepository(User::class)->count([]) > 0;
        if (DataKind::Shop === $kind && ($isThere || DataKind::holdsWork($folder))) {
            $output->writeln($this->words->say('records.of_a_shop', ['path' => $folder]));

            return Command::FAILURE;
        }
        if ($isThere && !$isReset && DemoMaker::isOfToday($this->data->phones())) {
            DataKind::Demonstration->write($folder);
            $output->writeln('The demonstration is there already (make it anew with --reset).');

            return Command::SUCCESS;
        }
        if (!$isReset && ($isThere || DataKind::holdsWork($folder))) {
            $output->writeln($this->words->say('records.laid_aside', ['path' => $this->layAside()]));
        }
        DataKind::Demonstration->write($folder);
        $cable = $input->getOption('cable');
        $this->shop->clear();
        foreach (['backups', 'trays', 'standin'] as $folder) {
            Folder::remove($this->data->path.'/'.$folder);
        }
        $this->keys->destroyAll();
        $say = static fn (string $line) => $output->writeln('  '.$line);
        DemoMaker::make($this->data->phones(), $say);
        $this->drawer->fill($say);
        $this->secondDisk->make();
        $this->shop->open($say);
        DemoMaker::setCables($this->data->phones(), is_string($cable) && is_numeric($cable) ? (float) $cable : 0.0);

        return Command::SUCCESS;
    }

    /**
     * What a demonstration of an earlier version had is not thrown away: somebody may have worked in it.
     *
     * @return string where it is now
     */
    private function layAside(): string
    {
        $aside = Folder::make($this->data->path.'/earlier/'.$this->clock->now()->format('Ymd-His'));
        $this->copy->make($aside.'/shop.sqlite');
        foreach (['backups', 'trays', 'standin'] as $name) {
            if (is_dir($this->data->path.'/'.$name)) {
                Disk::move($this->data->path.'/'.$name, $aside.'/'.$name);
            }
        }
        // What opens it goes with it.
        foreach (Folder::files(Folder::make($this->data->keys())) as $name) {
            copy($this->data->keys().'/'.$name, Folder::make($aside.'/keys').'/'.$name);
        }

        return $aside;
    }
}
